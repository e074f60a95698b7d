import { quantile } from "./quantile";

/** So finely times are put together before they are smoothed. */
const cells = 1024;

/**
 * The width of a normal kernel: nine tenths of the smaller of standard deviation and quartile distance / 1.34, times n to the power
 * of −1/5 (Silverman, 1986, eq. 3.31), as R's `bw.nrd0`. Takes sorted numbers, two or more.
 */
export function bandwidth(sorted: ArrayLike<number>): number {
  const n = sorted.length;
  let mean = 0;
  for (let at = 0; at < n; at++) mean += (sorted[at] as number) / n;
  let squares = 0;
  for (let at = 0; at < n; at++) squares += ((sorted[at] as number) - mean) ** 2;
  const deviation = Math.sqrt(squares / (n - 1));
  const quartiles = (quantile(sorted, 0.75) - quantile(sorted, 0.25)) / 1.34;
  const least = Math.min(deviation, quartiles) || deviation || Math.abs(sorted[0] ?? 0) || 1;
  return 0.9 * least * n ** -0.2;
}

/**
 * The density of sorted numbers at some places, smoothed by a normal kernel. Numbers are first put into 1,024 cells (linear binning:
 * Wand, 1994), so that a million take no longer than a few. Fewer than two numbers have none: an empty list.
 */
export function densityAt(sorted: ArrayLike<number>, places: readonly number[]): number[] {
  const n = sorted.length;
  if (n < 2) return [];
  const width = bandwidth(sorted);
  const [low, high] = [sorted[0] ?? 0, sorted[n - 1] ?? 0];
  const step = (high - low) / (cells - 1) || 1;
  const weights = new Float64Array(cells + 1);
  for (let index = 0; index < n; index++) {
    const at = ((sorted[index] as number) - low) / step;
    const cell = Math.floor(at);
    weights[cell] = (weights[cell] as number) + 1 - (at - cell);
    weights[cell + 1] = (weights[cell + 1] as number) + at - cell;
  }
  const scale = 1 / (n * width * Math.sqrt(2 * Math.PI));
  return places.map((place) => {
    let sum = 0;
    for (let cell = 0; cell <= cells; cell++) {
      const weight = weights[cell] as number;
      if (weight === 0) continue;
      const z = (place - low - cell * step) / width;
      if (z > -8 && z < 8) sum += weight * Math.exp(-0.5 * z * z);
    }
    return sum * scale;
  });
}
