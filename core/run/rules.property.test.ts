import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyRuledStudy } from "~/tests/support/rules";
import { plannedAssignment } from "../allocate/allocate";
import { compile } from "../compile/compile";
import { parseStudy } from "../design/parse";
import { streamFor } from "../random/stream";
import type { SessionRecord } from "../records/record";
import { recordShape } from "../records/record";
import { mistakesIn } from "../shape/shape";
import { plainModel, simulateSession } from "../simulate/participant";
import { Follower } from "./follower";
import { sessionMachine } from "./session-machine";
import { rebuild } from "./replay";
import type { SessionEvent, Step } from "./state";

/** Drives a whole session with keys, acts and frames at any moment. */
function unruly(document: Parameters<typeof compile>[0], seed: number) {
  const machine = sessionMachine(document, compile(document, 1, "s", plannedAssignment(document, 1).group));
  const chance = streamFor("unruly", seed);
  const records: SessionRecord[] = [];
  const states: Step["state"][] = [];
  let step = machine.begin();
  let clock = 0;
  let count = 0;
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    const made = step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : []));
    records.push(...made);
    made.forEach(() => states.push(step.state));
  };
  while (step.state.phase.kind !== "done" && count++ < 40_000) {
    clock += chance.whole(1, 300) / 3;
    const due = machine.due(step.state);
    if (due !== null && due <= clock) send({ kind: "act", at: clock, happened: { on: "time" } });
    const which = chance.whole(0, 9);
    if (chance.whole(0, 120) === 0) send({ kind: "break-off", at: clock, why: "focus" });
    if (chance.whole(0, 3000) === 0) send({ kind: "withdraw", at: clock });
    else if (step.state.phase.kind === "page" || step.state.phase.kind === "break") {
      send({ kind: "page-shown", at: clock });
      if (which < 3) send({ kind: "act", at: clock + 5, happened: { on: "window", what: "focus-lost" } });
      send({ kind: "continue", at: clock + 10 });
    } else if (which < 3) {
      const value = chance.whole(0, 1) === 0 ? "f" : "j";
      send({ kind: "input", at: clock, input: { device: "keys", value, act: "press" } });
    } else if (which === 3) send({ kind: "act", at: clock, happened: { on: "key", key: "KeyB", act: "press" } });
    else if (which === 4) send({ kind: "act", at: clock, happened: { on: "window", what: "focus-lost" } });
    else send({ kind: "flip", at: clock, late: 0, ended: { by: "time", frames: 3, planned: 3 } });
  }
  return { machine, records, states };
}

describe("any rules on any design", () => {
  it("are documents that can be saved", () => {
    fc.assert(
      fc.property(anyRuledStudy, (document) => {
        const parsed = parseStudy(structuredClone(document));
        expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it("end, give records that can be stored, and stand again where they stood when they are replayed", () => {
    fc.assert(
      fc.property(anyRuledStudy, fc.nat(), (document, seed) => {
        const { machine, records, states } = unruly(document, seed);
        expect(states.at(-1)?.phase.kind).toBe("done");
        for (const record of records) expect(mistakesIn(recordShape, record)).toEqual([]);
        expect(records.map(({ number }) => number)).toEqual(records.map((_, index) => index + 1));
        for (let count = 0; count <= records.length; count += Math.max(1, Math.floor(records.length / 5))) {
          if (records[count - 1]?.kind === "end" || records[count]?.kind === "end") continue;
          const again = rebuild(machine, records.slice(0, count));
          expect(again.state).toEqual(count === 0 ? machine.begin().state : states[count - 1]);
        }
        expect(rebuild(machine, records).state).toEqual(states.at(-1));
        const { group } = machine.course.plan;
        const follower = new Follower(document, { participant: 1, group, orders: {}, seed: "s" });
        // Through JSON, as records travel.
        for (const record of JSON.parse(JSON.stringify(records)) as SessionRecord[])
          expect(follower.take(record)).toBeNull();
      }),
      { numRuns: 60 },
    );
  });

  it("are played to the end by simulated participants, whose records are those of the same machine", () => {
    fc.assert(
      fc.property(anyRuledStudy, (document) => {
        const assignment = plannedAssignment(document, 1);
        const { records, finished } = simulateSession(document, 1, assignment, "s", plainModel);
        expect(finished).toBe(true);
        const follower = new Follower(document, { participant: 1, ...assignment, seed: "s" });
        for (const record of records) expect(follower.take(record)).toBeNull();
      }),
      { numRuns: 40 },
    );
  });
});
