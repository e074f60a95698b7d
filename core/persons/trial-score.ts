import { list, object } from "../shape/compound";
import { oneOf, text } from "../shape/plain";
import { nullable, type Of } from "../shape/shape";
import { inList } from "../describe/in-words";
import { measureNames, measures, type MeasureName } from "../stats/measures";

const called = text({ most: 200 });
const level = object({ column: called, level: called });

/** Trials of a score can be chosen by so many columns, besides the one that is contrasted. */
export const mostWhere = 2;

/** A number of each session, made of its trials by a stated rule. */
export const trialScore = object({
  measure: oneOf(...measureNames),
  /** The column whose numbers it is the mean of. */
  numbers: nullable(called),
  /** Which level of which column is the signal, for measures of detection. */
  signal: nullable(level),
  /** Only of trials with these levels. */
  where: list(level, 0, mostWhere),
  /** Of the trials with one level of a column, less that of those with another; null for all of them together. */
  contrast: nullable(object({ column: called, of: called, less: called })),
});
export type TrialScore = Of<typeof trialScore>;

/** The score as it is said: “mean reaction time, neighbours against less with, where part is Main”. */
export function trialScoreInWords({ measure, numbers, where, contrast }: TrialScore): string {
  const what = measure === "column" ? `mean of ${numbers ?? "a column"}` : measures[measure].called;
  return [
    what,
    ...(contrast ? [`${contrast.column} ${contrast.of || "(empty)"} less ${contrast.less || "(empty)"}`] : []),
    ...(where.length > 0
      ? [`where ${inList(where.map(({ column, level: own }) => `${column} is ${own || "(empty)"}`))}`]
      : []),
  ].join(", ");
}

/** The unit a score is in. */
export const unitOf = (measure: MeasureName): string => (measures[measure].unit === "ms" ? "ms" : "");

/**
 * Reliability by halves: the correlation of what persons have in odd and in even trials, stepped up to the whole length (Spearman,
 * 1910; Brown, 1910). Gives the correlation, that of the whole length, and of how many persons; null with fewer than three, or where
 * they do not differ.
 */
export function splitHalf(
  halves: readonly (readonly [number | null, number | null])[],
): { r: number; whole: number; n: number } | null {
  const both = halves.flatMap(([odd, even]) => (odd === null || even === null ? [] : [[odd, even] as const]));
  const n = both.length;
  if (n < 3) return null;
  const [a, b] = [0, 1].map((at) => both.reduce((sum, pair) => sum + (pair[at] as number), 0) / n) as [number, number];
  let [products, first, second] = [0, 0, 0];
  for (const [odd, even] of both) {
    products += (odd - a) * (even - b);
    first += (odd - a) ** 2;
    second += (even - b) ** 2;
  }
  if (first === 0 || second === 0) return null;
  const r = products / Math.sqrt(first * second);
  return { r, whole: r <= -1 ? -Infinity : (2 * r) / (1 + r), n };
}
