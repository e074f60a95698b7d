import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { anyStudy } from "~/tests/support/studies";
import { groupForStart, plannedGroup } from "./groups";

describe("groups", () => {
  it("fill evenly: after every full round each group has the same number", () => {
    fc.assert(
      fc.property(anyStudy, fc.integer({ min: 1, max: 12 }), (document, rounds) => {
        const counts = new Map<string, number>();
        for (let participant = 1; participant <= rounds * document.groups.length; participant++) {
          const group = plannedGroup(document, participant);
          counts.set(group, (counts.get(group) ?? 0) + 1);
        }
        expect([...counts.values()]).toEqual(document.groups.map(() => rounds));
      }),
    );
  });

  it("are the planned ones as long as nobody breaks off", () => {
    fc.assert(
      fc.property(anyStudy, (document) => {
        const counts = new Map<string, number>();
        for (let participant = 1; participant <= 30; participant++) {
          const group = groupForStart(document, participant, counts);
          expect(group).toBe(plannedGroup(document, participant));
          counts.set(group, (counts.get(group) ?? 0) + 1);
        }
      }),
    );
  });

  it("never differ by more than one among sessions that count, whoever breaks off", () => {
    fc.assert(
      fc.property(anyStudy, fc.array(fc.nat(99), { minLength: 20, maxLength: 60 }), (document, leaving) => {
        const counts = new Map<string, number>();
        leaving.forEach((chance, index) => {
          const group = groupForStart(document, index + 1, counts);
          const before = document.groups.map(({ id }) => counts.get(id) ?? 0);
          expect(counts.get(group) ?? 0).toBe(Math.min(...before));
          if (chance > 25) counts.set(group, (counts.get(group) ?? 0) + 1);
        });
        const sizes = document.groups.map(({ id }) => counts.get(id) ?? 0);
        expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
      }),
    );
  });
});
