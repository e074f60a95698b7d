import { describe, expect, it } from "vitest";
import { streamFor } from "./stream";
import { shuffled } from "./shuffle";

/** Upper 0.1 % points of chi-square (Abramowitz and Stegun, 1972, table 26.8), by degrees of freedom. */
const critical = { 5: 20.52, 9: 27.88, 23: 49.73 } as const;

const chiSquare = (counts: number[], cells: number) => {
  const expected = counts.reduce((sum, count) => sum + count, 0) / cells;
  const seen = counts.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0);
  return seen + (cells - counts.length) * expected;
};

describe("streams", () => {
  it("give the same numbers for the same key, on any machine", () => {
    const draw = () => Array.from({ length: 5 }, (_, index) => streamFor("4F2A", index, "order").whole(0, 999));
    expect(draw()).toEqual(draw());
    expect(draw()).toMatchInlineSnapshot(`
      [
        936,
        43,
        327,
        854,
        438,
      ]
    `);
  });

  it("differ for keys that differ in one sign or in where one piece ends", () => {
    const first = (...key: (string | number)[]) => streamFor(...key).whole(0, 2 ** 30);
    const keys: (string | number)[][] = [
      ["a", 1, "b"],
      ["a", 1, "c"],
      ["a", 2, "b"],
      ["a1", "b"],
      ["a", "1b"],
      ["b", 1, "a"],
      ["", "a", 1, "b"],
    ];
    expect(new Set(keys.map((key) => first(...key))).size).toBe(keys.length);
  });

  it("are uniform over neighbouring participants, which share all but one part of the key", () => {
    const counts = Array<number>(10).fill(0);
    for (let participant = 1; participant <= 20_000; participant++)
      counts[streamFor("S", participant, "block", 1, "order").whole(0, 9)]!++;
    expect(chiSquare(counts, 10)).toBeLessThan(critical[9]);
  });
});

describe("shuffle", () => {
  it("gives every order of four equally often (chi-square over 24,000 shuffles)", () => {
    const counts = new Map<string, number>();
    for (let participant = 0; participant < 24_000; participant++) {
      const order = shuffled(["a", "b", "c", "d"], streamFor("seed", participant, "order")).join("");
      counts.set(order, (counts.get(order) ?? 0) + 1);
    }
    expect(counts.size).toBe(24);
    expect(chiSquare([...counts.values()], 24)).toBeLessThan(critical[23]);
  });

  it("keeps what it was given and leaves the list as it was", () => {
    const list = [1, 1, 2, 3, 5, 8];
    const result = shuffled(list, streamFor("x"));
    expect(result.toSorted()).toEqual(list);
    expect(list).toEqual([1, 1, 2, 3, 5, 8]);
  });

  it("gives the six orders of a table of three rows equally often across participants of a study", () => {
    const counts = new Map<string, number>();
    for (let participant = 1; participant <= 6_000; participant++) {
      const order = shuffled([0, 1, 2], streamFor("4F2A", participant, "block-1", 1, "order")).join("");
      counts.set(order, (counts.get(order) ?? 0) + 1);
    }
    expect(chiSquare([...counts.values()], 6)).toBeLessThan(critical[5]);
  });
});
