import fc from "fast-check";
import { expect, test } from "vitest";
import { takeEvenly } from "./take";

const strata = fc
  .array(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 4 })
  .map((sizes) => sizes.map((size, stratum) => Array.from({ length: size }, (_, index) => `${stratum}.${index}`)));
const counts = (list: readonly string[]) => {
  const found = new Map<string, number>();
  for (const each of list) found.set(each, (found.get(each) ?? 0) + 1);
  return found;
};

test("each is taken equally often over as many turns as there are things, and none twice in a turn unless all are", () => {
  fc.assert(
    fc.property(
      strata,
      fc.integer({ min: 1, max: 30 }),
      fc.nat(2),
      fc.string({ maxLength: 3 }),
      (parts, count, cycle, seed) => {
        const all = parts.flat();
        const turns = all.map((_, index) => takeEvenly(parts, count, cycle * all.length + index, [seed]));
        for (const taken of turns) {
          expect(taken).toHaveLength(count);
          const often = counts(taken);
          const [least, most] = [Math.floor(count / all.length), Math.ceil(count / all.length)];
          if (parts.length === 1)
            for (const each of all) {
              expect(often.get(each) ?? 0).toBeGreaterThanOrEqual(least);
              expect(often.get(each) ?? 0).toBeLessThanOrEqual(most);
            }
          for (const [stratum, things] of parts.entries()) {
            const own = taken.filter((each) => each.startsWith(`${stratum}.`)).length;
            expect(Math.abs(own - (count * things.length) / all.length)).toBeLessThan(1);
            const ofThings = things.map((each) => often.get(each) ?? 0);
            expect(Math.max(...ofThings) - Math.min(...ofThings)).toBeLessThanOrEqual(1);
          }
        }
        const total = counts(turns.flat());
        for (const each of all) expect(total.get(each)).toBe(count);
      },
    ),
    { numRuns: 300 },
  );
});

test("six of twenty, three of each direction, whatever the turn", () => {
  const [left, right] = ["left", "right"].map((side) =>
    Array.from({ length: 10 }, (_, index) => `${side} ${index}`),
  ) as [string[], string[]];
  for (let turn = 0; turn < 50; turn++) {
    const taken = takeEvenly([left, right], 6, turn, ["s"]);
    expect(taken.filter((each) => each.startsWith("left"))).toHaveLength(3);
  }
});

test("which come together varies: over many seeds every pair is taken about equally often", () => {
  const things = [0, 1, 2, 3, 4];
  const pairs = new Map<string, number>();
  const size = 4000;
  for (let seed = 0; seed < size; seed++) {
    const key = takeEvenly([things], 2, 2, [seed]).toSorted().join("");
    pairs.set(key, (pairs.get(key) ?? 0) + 1);
  }
  expect(pairs.size).toBe(10);
  for (const count of pairs.values()) expect(Math.abs(count - size / 10)).toBeLessThan(4 * Math.sqrt(size * 0.09));
});
