import { quantile } from "../stats/quantile";

/** What a median absolute deviation is multiplied by to estimate the standard deviation of normal values (Hampel, 1974). */
export const madFactor = 1.4826;

export const centreWords = ["median", "mean"] as const;
export const spreadWords = ["mad", "sd"] as const;
export type Beyond = { times: number; spread: (typeof spreadWords)[number]; around: (typeof centreWords)[number] };

/** From where to where values lie within so many spreads of their centre; everything does where there are fewer than two. */
export function within(values: ArrayLike<number>, { times, spread, around }: Beyond): { from: number; to: number } {
  const n = values.length;
  if (n < 2) return { from: -Infinity, to: Infinity };
  let mean = 0;
  for (let at = 0; at < n; at++) mean += (values[at] as number) / n;
  const median = around === "median" || spread === "mad" ? quantile(new Float64Array(values).sort(), 0.5) : NaN;
  const squares = () => {
    let sum = 0;
    for (let at = 0; at < n; at++) sum += ((values[at] as number) - mean) ** 2;
    return sum;
  };
  const distances = () => {
    const found = new Float64Array(n);
    for (let at = 0; at < n; at++) found[at] = Math.abs((values[at] as number) - median);
    return found.sort();
  };
  const width = spread === "mad" ? madFactor * quantile(distances(), 0.5) : Math.sqrt(squares() / (n - 1));
  const centre = around === "mean" ? mean : median;
  return { from: centre - times * width, to: centre + times * width };
}

/** The words of a sentence: “3 MAD of … median”. */
export const spreadOptions = [
  ["mad", "MAD"],
  ["sd", "SD"],
] as const;
export const centreOptions = [
  ["median", "median"],
  ["mean", "mean"],
] as const;
