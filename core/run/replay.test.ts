import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy, plainStudy } from "~/tests/support/studies";
import { unruly } from "~/tests/support/unruly";
import { plannedAssignment } from "../allocate/allocate";
import type { compile } from "../compile/compile";
import { Follower } from "./follower";
import { rebuild } from "./replay";

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
