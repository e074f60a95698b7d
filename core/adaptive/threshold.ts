import { distanceAt } from "./curve";
import type { Threshold } from "./kind";
import { momentsAt, type Grid } from "./posterior";
import { settledNumber, shownValue, valueAt, type Range } from "./range";

/** 95 % of a normal distribution lie within so many standard deviations. */
const within95 = 1.96;

/** The threshold a posterior tells of: mean and deviation of the place at which the share `at` is right. */
export function thresholdOf(grid: Grid, weights: Float64Array, at: number): Threshold {
  const { range } = grid;
  const { mean, sd } = momentsAt(grid, weights, distanceAt(range, at));
  const value = (place: number) => settledNumber(valueAt(range, place));
  const [a, b] = [value(mean - within95 * sd), value(mean + within95 * sd)];
  return { value: value(mean), error: settledNumber(sd), from: Math.min(a, b), to: Math.max(a, b), at };
}

/** Where a place can be shown. */
export const shownAt = (range: Range, place: number): number => shownValue(range, valueAt(range, place));
