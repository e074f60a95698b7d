import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy, plainStudy } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { compile } from "../compile/compile";
import { streamFor } from "../random/stream";
import { Follower } from "./follower";
import { sessionMachine } from "./session-machine";
import type { SessionEvent, Step } from "./state";
import { rebuild } from "./replay";
import type { SessionRecord } from "../records/record";

/**
 * Drives a whole session with unruly timing: keys at any moment, including ones stamped before a flip but delivered
 * after it.
 */
function unruly(
  document: Parameters<typeof compile>[0],
  seed: number,
): { machine: ReturnType<typeof sessionMachine>; records: SessionRecord[]; states: Step["state"][] } {
  const group = plannedAssignment(document, 1).group;
  const machine = sessionMachine(document, compile(document, 1, "s", group));
  const chance = streamFor("unruly", seed);
  const records: SessionRecord[] = [];
  const states: Step["state"][] = [];
  let step = machine.begin();
  let clock = 0;
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    const made = step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : []));
    records.push(...made);
    made.forEach(() => states.push(step.state));
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
  return { machine, records, states };
}

const whose = (document: Parameters<typeof compile>[0]) => ({
  participant: 1,
  group: plannedAssignment(document, 1).group,
  orders: {},
  seed: "s",
});

describe("a session rebuilt from its records", () => {
  it("stands exactly where the one that ran stood, after every record", () => {
    fc.assert(
      fc.property(anyStudy, fc.nat(), (document, seed) => {
        const { machine, records, states } = unruly(document, seed);
        for (let count = 0; count <= records.length; count += Math.max(1, Math.floor(records.length / 7))) {
          const again = rebuild(machine, records.slice(0, count));
          // What one event made together is not cut in two.
          if (records[count - 1]?.kind === "end" || records[count]?.kind === "end") continue;
          expect(again.state).toEqual(count === 0 ? machine.begin().state : states[count - 1]);
          expect(again.unsaved).toEqual([]);
        }
        const whole = rebuild(machine, records);
        expect(whole.state).toEqual(states.at(-1));
        expect(whole.commands).toEqual([{ kind: "finish" }]);
        // Whoever looks on record by record takes each of them, as it comes through the network.
        const follower = new Follower(document, whose(document));
        for (const record of records) expect(follower.take(JSON.parse(JSON.stringify(record)))).toBeNull();
      }),
      { numRuns: 150 },
    );
  });

  it("hands back the end record when the writing was cut off before it", () => {
    const { machine, records } = unruly(plainStudy(), 3);
    const cut = rebuild(machine, records.slice(0, -1));
    expect(cut.unsaved).toEqual([records.at(-1)]);
  });

  it("refuses records of another plan", () => {
    const { machine, records } = unruly(plainStudy(), 4);
    expect(() => rebuild(machine, records.slice(1))).toThrow(/does not belong/);
  });
});
