import { plannedAssignment } from "~/core/allocate/allocate";
import { compile } from "~/core/compile/compile";
import { streamFor } from "~/core/random/stream";
import type { SessionRecord } from "~/core/records/record";
import { sessionMachine } from "~/core/run/session-machine";
import type { SessionEvent, Step } from "~/core/run/state";

/**
 * Drives a whole session with unruly timing: keys at any moment, including ones stamped before a flip but delivered
 * after it.
 */
export function unruly(
  document: Parameters<typeof compile>[0],
  seed: number,
): {
  machine: ReturnType<typeof sessionMachine>;
  records: SessionRecord[];
  states: Step["state"][];
  /** What was shown: the scene, when, and the state after it came on. */
  shown: { scene: string; at: number; state: Step["state"] }[];
} {
  const group = plannedAssignment(document, 1).group;
  const machine = sessionMachine(document, compile(document, 1, "s", group));
  const chance = streamFor("unruly", seed);
  const records: SessionRecord[] = [];
  const states: Step["state"][] = [];
  const shown: ReturnType<typeof unruly>["shown"] = [];
  let step = machine.begin();
  let clock = 0;
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    const made = step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : []));
    records.push(...made);
    made.forEach(() => states.push(step.state));
    for (const command of step.commands)
      if (command.kind === "show-scene") shown.push({ scene: command.scene, at: clock, state: step.state });
  };
  while (step.state.phase.kind !== "done") {
    clock += chance.whole(1, 300) / 3;
    if (chance.whole(0, 80) === 0) send({ kind: "break-off", at: clock, why: "focus" });
    if (chance.whole(0, 400) === 0) send({ kind: "withdraw", at: clock });
    else if (step.state.phase.kind === "page" || step.state.phase.kind === "break") {
      send({ kind: "page-shown", at: clock });
      send({ kind: "continue", at: clock + 10 });
    } else if (chance.whole(0, 2) === 0)
      send({
        kind: "input",
        at: clock - (chance.whole(0, 1) === 0 ? 0 : chance.whole(0, 40)),
        input: { device: "keys", value: chance.whole(0, 1) === 0 ? "f" : "j", act: "press" },
      });
    else
      send({
        kind: "flip",
        at: clock,
        late: chance.whole(0, 1),
        ended: { by: "time", frames: chance.whole(1, 9), planned: 4 },
      });
  }
  return { machine, records, states, shown };
}
