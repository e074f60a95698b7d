import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { matched, type MatchClass } from "./matching";

const classesOf = fc.array(
  fc.record({
    needs: fc.integer({ min: 0, max: 4 }),
    rows: fc.uniqueArray(fc.integer({ min: 0, max: 9 }), { maxLength: 8 }),
  }),
  { maxLength: 5 },
);
const order = fc.shuffledSubarray([0, 1, 2, 3, 4, 5, 6, 7, 8, 9], { minLength: 10 });

/** The most rows that can be given, by trying every set of classes: needs are met but for the worst of these (Hall's deficiency). */
function mostGiven(classes: readonly MatchClass[]): number {
  const total = classes.reduce((sum, { needs }) => sum + needs, 0);
  let worst = 0;
  for (let set = 0; set < 2 ** classes.length; set++) {
    const some = classes.filter((_, index) => (set >> index) % 2 === 1);
    const rows = new Set(some.flatMap(({ rows: each }) => each));
    worst = Math.max(worst, some.reduce((sum, { needs }) => sum + needs, 0) - rows.size);
  }
  return total - worst;
}

describe("rows of a pool given to trials", () => {
  it("are as many as can be, each where it fits, none twice, and what lacks is proved by counts", () => {
    fc.assert(
      fc.property(classesOf, order, (classes, preferred) => {
        const { given, shortages } = matched(classes, preferred);
        const all = given.flat();
        expect(new Set(all).size).toBe(all.length);
        expect(all.length).toBe(mostGiven(classes));
        given.forEach((rows, index) => {
          expect(rows.length).toBeLessThanOrEqual(classes[index]!.needs);
          for (const row of rows) expect(classes[index]!.rows).toContain(row);
        });
        const total = classes.reduce((sum, { needs }) => sum + needs, 0);
        expect(shortages.reduce((sum, { needs, has }) => sum + needs - has, 0)).toBe(total - all.length);
        for (const { classes: together, needs, has } of shortages) {
          expect(needs).toBeGreaterThan(has);
          expect(new Set(together.flatMap((each) => classes[each]!.rows)).size).toBe(has);
        }
      }),
      { numRuns: 600 },
    );
  });

  it("are the preferred ones as far as any solution has them", () => {
    fc.assert(
      fc.property(classesOf, order, (classes, preferred) => {
        const used = new Set(matched(classes, preferred).given.flat());
        // Greedy by preference: each row is used just when it can be, beside those used before it.
        const before: number[] = [];
        for (const row of preferred) {
          const only = (rows: readonly number[]) =>
            classes.map((each) => ({ ...each, rows: each.rows.filter((one) => rows.includes(one)) }));
          const canBe = mostGiven(only([...before, row])) === before.length + 1;
          expect(used.has(row)).toBe(canBe);
          if (canBe) before.push(row);
        }
      }),
      { numRuns: 200 },
    );
  });
});
