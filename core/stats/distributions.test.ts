import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bandwidth, densityAt } from "./density";
import {
  accuracyBySpeed,
  binWidth,
  cumulative,
  deltas,
  densities,
  histograms,
  shares,
  vincentized,
  type Timed,
  type TimedPeople,
} from "./distributions";
import { quantile } from "./quantile";

const timed = (times: readonly number[], right: readonly boolean[] = times.map(() => true)): Timed => {
  const order = times.map((_, at) => at).sort((a, b) => times[a]! - times[b]!);
  return {
    times: Float64Array.from(times).sort(),
    speeds: Float64Array.from(order, (at) => times[at]!),
    right: Uint8Array.from(order, (at) => Number(right[at])),
  };
};
const peopleOf = (...own: Record<string, readonly number[]>[]): TimedPeople =>
  new Map(
    own.map((byLevel, at) => [
      `p${at}`,
      new Map(Object.entries(byLevel).map(([level, times]) => [level, timed(times)])),
    ]),
  );
const close = (found: readonly number[], expected: readonly number[], digits = 6) => {
  expect(found).toHaveLength(expected.length);
  for (const [at, each] of found.entries()) expect(each).toBeCloseTo(expected[at]!, digits);
};

// The same numbers as in tests/support/distributions.R, which works out what is expected here.
const x = [312.4, 350.1, 371.9, 388, 402.6, 415.3, 431.7, 455, 480.2, 521.8, 640.5];
const y = [350.2, 371.4, 399.9, 402, 441.6, 455.1, 470.7, 521, 560.4, 611.9, 802.3];
const z = [298.7, 333.3, 340.8, 377.1, 391, 410.2, 418.8, 440.9, 470.3, 500.6, 590.1];
const w = [360.5, 362.8, 410.1, 433.3, 452.7, 490.6, 498.8, 540.2, 588.3, 660.4, 740.9];

describe("against R", () => {
  it("quantiles are of type 7", () => {
    close(
      shares.map((share) => quantile(x, share)),
      [350.1, 371.9, 388.0, 402.6, 415.3, 431.7, 455.0, 480.2, 521.8],
    );
    expect(quantile([5], 0.9)).toBe(5);
    expect(quantile([], 0.5)).toBeNaN();
  });

  it("a density has the width of bw.nrd0, and lies where the kernels' sum does", () => {
    expect(bandwidth(x)).toBeCloseTo(36.4427460322, 9);
    const found = densityAt(x, [300, 400, 500, 640]);
    const expected = [0.00154922509, 0.00512338456, 0.00243345832, 0.00100033657];
    // Cells of a thousandth of the range move it by less than a hundredth of one per cent.
    for (const [at, each] of found.entries()) expect(Math.abs(each / expected[at]! - 1)).toBeLessThan(1e-4);
  });

  it("quantiles are averaged over persons", () => {
    const [curve] = vincentized(peopleOf({ a: x }, { a: z }), ["a"]);
    close(
      curve!.points.map((point) => point.y),
      [341.7, 356.35, 382.55, 396.8, 412.75, 425.25, 447.95, 475.25, 511.2],
    );
    expect(curve).toMatchObject({ persons: 2, trials: 22 });
  });

  it("differences have the mean of both on their axis, and the interval of the mean difference", () => {
    const { points, level } = deltas(peopleOf({ a: x, b: y }, { a: z, b: w }, { a: x }), ["a", "b"]);
    expect(level).toBe("b − a");
    close(
      points.map((point) => point.y),
      [25.4, 48.65, 35.1, 50.35, 60.1, 59.5, 82.65, 99.1, 124.95],
    );
    close(
      points.map((point) => point.half!),
      [
        52.09543942, 262.3831278, 268.10091993, 144.21542376, 257.93595614, 260.47719709, 211.55830886, 240.14726951,
        442.81123506,
      ],
    );
    close(
      points.map((point) => point.x),
      [354.4, 380.675, 400.1, 421.975, 442.8, 455.0, 489.275, 524.8, 573.675],
    );
  });
});

describe("curves", () => {
  it("take only persons who have enough in all of their conditions", () => {
    const people = peopleOf({ a: x, b: y }, { a: z, b: [1, 2, 3, 4] }, { a: z });
    expect(vincentized(people, ["a", "b"]).map(({ persons }) => persons)).toEqual([1, 1]);
    // Between persons everybody has one.
    expect(vincentized(peopleOf({ a: x }, { b: y }, { b: z }), ["a", "b"]).map(({ persons }) => persons)).toEqual([
      1, 2,
    ]);
    expect(vincentized(new Map(), ["a"])).toEqual([{ level: "a", persons: 0, trials: 0, points: [] }]);
  });

  it("of accuracy put each person's trials into five parts of equal size by speed", () => {
    const times = Array.from({ length: 20 }, (_, at) => 100 * (at + 1));
    const right = times.map((time) => time > 400);
    const people: TimedPeople = new Map([
      ["p", new Map([["a", timed(times, right)]])],
      ["q", new Map([["a", timed(times.slice(0, 5))]])],
    ]);
    const [curve] = accuracyBySpeed(people, ["a"]);
    expect(curve!.persons).toBe(1);
    expect(curve!.points.map((point) => [point.x, point.y])).toEqual([
      [250, 0],
      [650, 100],
      [1050, 100],
      [1450, 100],
      [1850, 100],
    ]);
  });

  it("of shares end at all, never fall, and make up the whole", () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            a: fc.array(fc.integer({ min: 100, max: 3000 }), { maxLength: 40 }),
            b: fc.array(fc.integer({ min: 100, max: 3000 }), { maxLength: 40 }),
          }),
          { minLength: 1, maxLength: 5 },
        ),
        (own) => {
          const people = peopleOf(...own);
          for (const { points } of cumulative(people, ["a", "b"])) {
            const ys = points.map((point) => point.y);
            expect(ys).toEqual(ys.toSorted((a, b) => a - b));
            for (const each of ys) expect(each).toBeLessThanOrEqual(100.000001);
          }
          const { curves, width } = histograms(people, ["a", "b"]);
          for (const { points, trials } of curves) {
            const sum = points.reduce((all, point) => all + point.y, 0);
            // At most five in a thousand, and what shares their bin, lie beyond the axis.
            if (trials > 0) expect(sum).toBeGreaterThan(40);
            expect(sum).toBeLessThanOrEqual(100.000001);
            expect(points.every(({ x: from }) => Number.isInteger(Math.round((from / width) * 1e6) / 1e6))).toBe(true);
          }
          for (const { points, trials } of densities(people, ["a", "b"])) {
            if (trials < 2) expect(points).toEqual([]);
            else for (const point of points) expect(Number.isFinite(point.y) && point.y >= 0).toBe(true);
          }
        },
      ),
      { numRuns: 200 },
    ));

  it("have bins of a round width", () => {
    expect(binWidth(x)).toBe(100);
    expect(binWidth([5, 5, 5])).toBe(10);
    expect(binWidth([])).toBe(10);
  });
});
