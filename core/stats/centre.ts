/** The middle of a person's times in a condition, as it is called before “reaction time”. */
export const centres = {
  mean: "mean",
  median: "median",
  trimmed: "trimmed mean",
  geometric: "geometric mean",
} as const;
export type Centre = keyof typeof centres;
export const centreNames = Object.keys(centres) as Centre[];

/** So large a share is left out at each end of a trimmed mean. */
export const trimmedShare = 0.1;

const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

/**
 * The middle of some numbers: mean, median (type 7), the mean without the tenth at each end that is smallest and largest
 * (rounded down, as Wilcox, 2012, and R's `mean(trim = 0.1)`), or the geometric mean; null without numbers, and for the geometric
 * mean where one of them is not above 0.
 */
export function centreOf(values: readonly number[], by: Centre): number | null {
  const n = values.length;
  if (n === 0) return null;
  if (by === "mean") return meanOf(values);
  if (by === "geometric")
    return values.every((value) => value > 0) ? Math.exp(meanOf(values.map((value) => Math.log(value)))) : null;
  const sorted = values.toSorted((a, b) => a - b);
  if (by === "trimmed") {
    const out = Math.floor(n * trimmedShare);
    return meanOf(sorted.slice(out, n - out));
  }
  const middle = (n - 1) / 2;
  return ((sorted[Math.floor(middle)] as number) + (sorted[Math.ceil(middle)] as number)) / 2;
}
