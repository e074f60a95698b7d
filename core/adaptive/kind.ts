import type { Answered } from "./posterior";

/** A threshold with its error; both on the scale of the values, and where it lies on the values themselves. */
export type Threshold = {
  /** The value at which the share `at` is right. */
  value: number;
  /** Standard deviation of the posterior: in units of the values, or of their decimal logarithms where steps are ratios. */
  error: number;
  /** Where it lies with a probability of 95 %. */
  from: number;
  to: number;
  at: number;
};

/** What there is to know of a way to choose the next value from the answers. */
export type AdaptiveKindOf<S> = {
  /** What it is called, and the published method behind it. */
  word: string;
  source: (spec: S) => string;
  /** The value of the next trial. Pure: the same answers give the same value. */
  next: (spec: S, answered: readonly Answered[]) => number;
  /** Whether enough has been asked. */
  isDone: (spec: S, answered: readonly Answered[]) => boolean;
  /** The indexes of the trials at which the direction turned. */
  reversals: (spec: S, answered: readonly Answered[]) => number[];
  /** Mean of the values at the later reversals, which has no error; null where there are too few, or none in this method. */
  reversalMean: (spec: S, answered: readonly Answered[]) => number | null;
  /** The fitted function's threshold; null before any answer. */
  threshold: (spec: S, answered: readonly Answered[]) => Threshold | null;
  /** The fewest trials after which it can be done. */
  fewest: (spec: S) => number;
};
