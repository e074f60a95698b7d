import { medianOf } from "../values/median";

/** What a median absolute deviation is multiplied by to estimate the standard deviation of normal values (Hampel, 1974). */
export const madFactor = 1.4826;

export const centreWords = ["median", "mean"] as const;
export const spreadWords = ["mad", "sd"] as const;
export type Beyond = { times: number; spread: (typeof spreadWords)[number]; around: (typeof centreWords)[number] };

/** From where to where values lie within so many spreads of their centre; everything does where there are fewer than two. */
export function within(values: readonly number[], { times, spread, around }: Beyond): { from: number; to: number } {
  if (values.length < 2) return { from: -Infinity, to: Infinity };
  const meanOf = (of: readonly number[]) => of.reduce((sum, value) => sum + value, 0) / of.length;
  const mean = meanOf(values);
  const median = medianOf(values);
  const width =
    spread === "mad"
      ? madFactor * medianOf(values.map((value) => Math.abs(value - median)))
      : Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1));
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
