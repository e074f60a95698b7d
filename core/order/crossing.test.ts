import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { combinationCounts, combinations, missingCombinations } from "./crossing";

const direction = { column: "d", levels: ["left", "right"] };
const gap = { column: "g", levels: [4, 8, 12] };
const row = (id: string, cells: Record<string, string | number>, copies = 1) => ({ id, copies, cells });

describe("crossing factors", () => {
  it("gives every combination once, the last factor changing fastest", () => {
    expect(combinations([direction, gap])).toEqual([
      ["left", 4],
      ["left", 8],
      ["left", 12],
      ["right", 4],
      ["right", 8],
      ["right", 12],
    ]);
  });

  it("adds only what a later level brings, and leaves rows edited by hand", () => {
    const rows = [
      row("a", { d: "left", g: 4, word: "tern" }),
      row("b", { d: "left", g: 8 }),
      row("c", { d: "right", g: 4 }),
      row("d", { d: "right", g: 8 }),
    ];
    expect(missingCombinations(rows, [direction, gap])).toEqual([
      { d: "left", g: 12 },
      { d: "right", g: 12 },
    ]);
    expect(missingCombinations(rows, [direction, { column: "g", levels: ["8", "4"] }])).toEqual([]);
  });

  it("has as many combinations as the product of the levels, all different, and none missing once added", () => {
    const factors = fc.array(fc.uniqueArray(fc.integer({ min: 0, max: 9 }), { minLength: 1, maxLength: 4 }), {
      minLength: 1,
      maxLength: 4,
    });
    fc.assert(
      fc.property(factors, (levels) => {
        const crossed = levels.map((each, index) => ({ column: `c${index}`, levels: each }));
        const all = combinations(crossed);
        expect(all.length).toBe(levels.reduce((product, each) => product * each.length, 1));
        expect(new Set(all.map((each) => each.join()))).toHaveProperty("size", all.length);
        const rows = missingCombinations([], crossed).map((cells, index) =>
          row(`r${index}`, cells as Record<string, number>),
        );
        expect(missingCombinations(rows, crossed)).toEqual([]);
      }),
    );
  });

  it("counts trials of each combination with copies and passes, so that an unbalanced table shows", () => {
    const rows = [row("a", { d: "left" }, 2), row("b", { d: "right" }, 1), row("c", { d: "left" }, 1)];
    expect(combinationCounts(rows, ["d"], 3)).toEqual([
      { values: ["left"], trials: 9 },
      { values: ["right"], trials: 3 },
    ]);
  });
});
