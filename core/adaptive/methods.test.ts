import { describe, expect, it } from "vitest";
import { plainStaircase } from "~/tests/support/staircase";
import { mistakesIn } from "../shape/shape";
import { bayesian } from "./bayesian/bayesian";
import type { Bayesian } from "./bayesian/spec";
import { distanceAt, shareRight } from "./curve";
import { adaptive } from "./specs";
import type { Staircase } from "./staircase/spec";
import { staircase, targetOf } from "./staircase/staircase";

const spec: Staircase = { ...plainStaircase, down: 2, steps: [10, 4], endReversals: 4 };

/** The values shown where answers are right (+) or wrong (−) as this line says, the one that would come next included. */
function values(of: Staircase, line: string): number[] {
  const answered: { value: number; right: boolean }[] = [];
  for (const each of line) answered.push({ value: staircase.next(of, answered), right: each === "+" });
  return [...answered.map(({ value }) => value), staircase.next(of, answered)];
}
const played = (of: Staircase, line: string) =>
  [...line].map((each, index) => ({ value: values(of, line)[index]!, right: each === "+" }));

describe("a staircase", () => {
  it("goes one step harder after two right answers in a row, one easier after a wrong one", () => {
    expect(values(spec, "++++-")).toEqual([50, 50, 40, 40, 30, 34]);
    expect(values({ ...spec, harder: "higher" }, "++-")).toEqual([50, 50, 60, 56]);
    expect(values({ ...spec, down: 3 }, "++-+++")).toEqual([50, 50, 50, 60, 60, 60, 56]);
  });

  it("counts right answers anew after each step and each wrong answer", () => {
    expect(values(spec, "+-+-++")).toEqual([50, 50, 60, 60, 70, 70, 66]);
  });

  it("shrinks its steps with each reversal, and the last size holds", () => {
    // Down to 30, up (first reversal, now 4), down (second), up (third).
    expect(values(spec, "++++-++-")).toEqual([50, 50, 40, 40, 30, 34, 34, 30, 34]);
    expect(staircase.reversals(spec, played(spec, "++++-++-"))).toEqual([4, 6, 7]);
  });

  it("stays within its least and most, and on multiples where it has to", () => {
    expect(values({ ...spec, start: 5 }, "++++")).toEqual([5, 5, 0, 0, 0]);
    expect(values({ ...spec, roundTo: 3 }, "++")).toEqual([51, 51, 42]);
    expect(values({ ...spec, roundTo: 30, most: 100, start: 95 }, "--")).toEqual([90, 90, 90]);
  });

  it("steps by ratios where its scale says so", () => {
    const ratios = { ...spec, scale: "logarithmic" as const, least: 1, start: 50, steps: [0.30103] };
    expect(values(ratios, "++-")).toEqual([50, 50, 25, 50]);
  });

  it("moves by each answer where steps are weighted, three times as far to the easier side for 75 %", () => {
    expect(values({ ...spec, moves: "weighted", steps: [5] }, "+-+")).toEqual([50, 45, 60, 55]);
    expect(targetOf({ ...spec, moves: "weighted" })).toBe(0.75);
    expect(targetOf(spec)).toBe(0.707107);
    // The ratios and shares of García-Pérez (1998).
    const shares = [0.2845, 0.5488, 0.7393, 0.8415].map((ratio, index) =>
      targetOf({ ...spec, down: index + 1, easierBy: 1 / ratio }),
    );
    expect(shares.map((share) => Math.round(share * 1000) / 10)).toEqual([77.9, 80.4, 83.2, 85.8]);
  });

  it("takes another step to the easier side where one is given", () => {
    expect(values({ ...spec, easierBy: 1.5, steps: [4] }, "++-")).toEqual([50, 50, 46, 52]);
  });

  it("is done after its reversals or trials, and the mean is that of the even number after steps had shrunk", () => {
    expect(staircase.isDone(spec, played(spec, "++++-++"))).toBe(false);
    const line = "++++-++-++";
    expect(staircase.isDone(spec, played(spec, line))).toBe(true);
    // At 30, 34, 30, 34; the first while the step was 10, and so that two are left, the second too.
    expect(staircase.reversalMean(spec, played(spec, line))).toBe(32);
    expect(staircase.isDone({ ...spec, endTrials: 3 }, played(spec, "+++"))).toBe(true);
    expect(staircase.fewest(spec)).toBe(7);
  });

  it("tells a threshold with an error that shrinks, and none before an answer", () => {
    expect(staircase.threshold(spec, [])).toBeNull();
    const few = staircase.threshold(spec, played(spec, "++++-++"))!;
    const many = staircase.threshold(spec, played(spec, "++++-++-++-++-++-++-++-++-"))!;
    expect(many.error).toBeLessThan(few.error);
    expect(many.from).toBeLessThan(many.value);
    expect(many.value).toBeLessThan(many.to);
    expect(many.at).toBe(targetOf(spec));
  });

  it("is refused where its numbers cannot go together, with the field", () => {
    const wrong = (change: object) => mistakesIn(adaptive, { ...spec, ...change }).map(({ path }) => path);
    expect(wrong({})).toEqual([]);
    expect(wrong({ most: 0 })).toEqual(["most"]);
    expect(wrong({ start: 101 })).toEqual(["start"]);
    expect(wrong({ scale: "logarithmic" })).toEqual(["least"]);
    expect(wrong({ curve: "weibull" })).toEqual(["curve"]);
    expect(wrong({ spreadTo: 1 })).toEqual(["spreadTo"]);
    expect(wrong({ roundTo: 500 })).toEqual(["roundTo"]);
    expect(wrong({ steps: [] })).toEqual(["steps"]);
  });
});

describe("psychometric functions", () => {
  const curve = { curve: "logistic" as const, guess: 0.5, lapse: 0 };
  it("stand at a quarter and three quarters of their way one spread apart", () => {
    expect(shareRight(curve, 10, 4, 12) - shareRight(curve, 10, 4, 8)).toBeCloseTo(0.25, 10);
    const weibull = { ...curve, curve: "weibull" as const };
    const at = (way: number) => distanceAt(weibull, 0.5 + 0.5 * way);
    expect(at(0.75) - at(0.25)).toBeCloseTo(1, 10);
    expect(shareRight(weibull, 0, 1, 0)).toBeCloseTo(0.5 + 0.5 * (1 - Math.exp(-1)), 10);
  });
});

describe("Bayesian estimation", () => {
  const belief: Bayesian = {
    ...{ method: "bayesian", least: 0, most: 100, scale: "linear", harder: "lower", curve: "logistic" },
    ...{ guess: 0.5, lapse: 0.02, next: "mean", spreadFrom: 10, spreadTo: 10 },
  };
  it.each(["mode", "mean", "entropy"] as const)(
    "by %s: goes harder after right answers and easier after wrong ones",
    (next) => {
      const of = { ...belief, next };
      const first = bayesian.next(of, []);
      const after = (right: boolean) =>
        bayesian.next(
          of,
          Array.from({ length: 6 }, () => ({ value: first, right })),
        );
      expect(after(true)).toBeLessThan(first);
      expect(after(false)).toBeGreaterThan(first);
    },
  );
  it("begins in the middle, or at what is expected", () => {
    expect(bayesian.next(belief, [])).toBe(50);
    expect(bayesian.next({ ...belief, expected: { value: 20, sd: 3 } }, [])).toBeCloseTo(20, 0);
  });
  it("is done when its error is small enough", () => {
    const of = { ...belief, endError: 8, endTrials: 1000 };
    const answered = Array.from({ length: 120 }, (_, index) => ({ value: 40 + (index % 3), right: index % 4 !== 0 }));
    expect(bayesian.isDone(of, answered.slice(0, 2))).toBe(false);
    expect(bayesian.isDone(of, answered)).toBe(true);
  });
});
