import { describe, expect, it } from "vitest";
import { streamFor } from "../random/stream";
import { normal } from "../simulate/distributions";
import { cronbachAlpha } from "./alpha";
import { described, histogram } from "./describe";

/** Persons × items with a common part: the true alpha is k·ρ / (1 + (k − 1)·ρ) for a correlation ρ. */
function drawn(persons: number, items: number, correlation: number, seed: number): number[][] {
  const stream = streamFor("alpha", seed);
  return Array.from({ length: persons }, () => {
    const common = Math.sqrt(correlation) * normal(stream);
    return Array.from({ length: items }, () => common + Math.sqrt(1 - correlation) * normal(stream));
  });
}

describe("Cronbach's alpha", () => {
  it("is what its formula gives, worked out by hand", () => {
    // Items 1 2 3 4 5 and 2 1 4 3 5: variances 2.5 and 2.5, of the sum 9; 2 · (1 − 5 / 9).
    const rows = [
      [1, 2],
      [2, 1],
      [3, 4],
      [4, 3],
      [5, 5],
    ];
    expect(cronbachAlpha(rows)?.alpha).toBeCloseTo(8 / 9, 10);
  });
  it("has Feldt's interval: for 41 persons and 26 items with .79, from .68 to .87", () => {
    const { low, high } = cronbachAlpha(withAlpha(41, 26, 0.79)) ?? { low: NaN, high: NaN };
    expect(low).toBeCloseTo(0.684, 2);
    expect(high).toBeCloseTo(0.872, 2);
  });
  it("covers the true value in 95 of 100 samples", () => {
    const truth = (6 * 0.4) / (1 + 5 * 0.4);
    let covered = 0;
    for (let seed = 0; seed < 1000; seed++) {
      const found = cronbachAlpha(drawn(40, 6, 0.4, seed));
      if (found && found.low <= truth && truth <= found.high) covered++;
    }
    // Three standard errors of a share of .95 in 1,000.
    expect(Math.abs(covered / 1000 - 0.95)).toBeLessThan(3 * Math.sqrt((0.95 * 0.05) / 1000));
  });
  it("takes persons who have all items, and is none where nobody differs", () => {
    expect(
      cronbachAlpha([
        [1, 2],
        [2, 3],
        [3, null],
        [4, 4],
        [2, 2],
      ])?.persons,
    ).toBe(4);
    expect(
      cronbachAlpha([
        [1, 2],
        [1, 2],
        [1, 2],
      ]),
    ).toBeNull();
    expect(cronbachAlpha([[1], [2], [3]])).toBeNull();
  });
});

/** A table whose alpha is exactly this: one sample, its common part stretched until it fits. */
function withAlpha(persons: number, items: number, wanted: number): number[][] {
  const stream = streamFor("fit", 1);
  const common = Array.from({ length: persons }, () => normal(stream));
  const rest = common.map(() => Array.from({ length: items }, () => normal(stream)));
  let [low, high] = [0, 5];
  const table = (weight: number) =>
    rest.map((row, person) => row.map((value) => value + weight * (common[person] as number)));
  for (let step = 0; step < 60; step++) {
    const middle = (low + high) / 2;
    if ((cronbachAlpha(table(middle))?.alpha ?? 0) < wanted) low = middle;
    else high = middle;
  }
  return table(low);
}

it("numbers are described by mean, SD, median and range", () => {
  expect(described([4, 1, 3, 2])).toEqual({ n: 4, mean: 2.5, sd: Math.sqrt(5 / 3), median: 2.5, least: 1, most: 4 });
  expect(described([7])?.sd).toBeNull();
  expect(described([])).toBeNull();
});

it("a histogram counts every number once, in bins of round width", () => {
  const values = Array.from({ length: 101 }, (_, index) => index);
  const bins = histogram(values, 12);
  expect(bins.reduce((sum, { count }) => sum + count, 0)).toBe(101);
  expect(new Set(bins.map(({ from, to }) => to - from))).toEqual(new Set([10]));
  expect(histogram([0.1, 0.2, 0.3]).reduce((sum, { count }) => sum + count, 0)).toBe(3);
  expect(histogram([5, 5])).toEqual([{ from: 5, to: 5, count: 2 }]);
});
