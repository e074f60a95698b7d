/** The mean; null of nothing. */
export const mean = (values: readonly number[]): number | null =>
  values.length === 0 ? null : values.reduce((sum, value) => sum + value, 0) / values.length;

/** Standard deviation with n − 1; null with fewer than two values. */
export function deviation(values: readonly number[]): number | null {
  const centre = mean(values);
  if (centre === null || values.length < 2) return null;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - centre) ** 2, 0) / (values.length - 1));
}

/** What is told of some numbers. `sd` is null with fewer than two. */
export type Described = { n: number; mean: number; sd: number | null; median: number; least: number; most: number };

/** Mean, standard deviation (n − 1), median (type 7) and range; null without numbers. */
export function described(values: readonly number[]): Described | null {
  const n = values.length;
  if (n === 0) return null;
  const sorted = values.toSorted((a, b) => a - b);
  const mean = values.reduce((sum, value) => sum + value, 0) / n;
  const squares = values.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  const middle = (n - 1) / 2;
  const median = ((sorted[Math.floor(middle)] as number) + (sorted[Math.ceil(middle)] as number)) / 2;
  return {
    n,
    mean,
    sd: n > 1 ? Math.sqrt(squares / (n - 1)) : null,
    median,
    least: sorted[0] as number,
    most: sorted[n - 1] as number,
  };
}

export type Bin = { from: number; to: number; count: number };

/** Counts in at most so many bins of equal, round width that cover all numbers; the last holds its upper end. */
export function histogram(values: readonly number[], most = 12): Bin[] {
  if (values.length === 0) return [];
  const least = Math.min(...values);
  const largest = Math.max(...values);
  if (least === largest) return [{ from: least, to: least, count: values.length }];
  const rough = (largest - least) / most;
  const power = 10 ** Math.floor(Math.log10(rough));
  const width = power * ([1, 2, 5, 10].find((factor) => factor * power >= rough) as number);
  const first = Math.floor(least / width) * width;
  const count = Math.max(1, Math.ceil((largest - first) / width + 1e-9));
  const bins = Array.from({ length: count }, (_, at): Bin => ({
    from: Number((first + at * width).toPrecision(12)),
    to: Number((first + (at + 1) * width).toPrecision(12)),
    count: 0,
  }));
  for (const value of values) {
    const at = Math.min(count - 1, Math.floor((value - first) / width + 1e-9));
    (bins[at] as Bin).count++;
  }
  return bins;
}
