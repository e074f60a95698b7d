import chisquareCdf from "@stdlib/stats-base-dists-chisquare-cdf";
import type { Block } from "../design/block";
import type { PassCounts } from "./counts";

/** With fewer expected in a cell the distribution of the statistic is not near enough to chi-square. */
const leastExpected = 5;

/**
 * How likely chance alone makes rows come as unevenly early and late in a pass as counted, or more so; null where there are
 * too few counts to say. Pearson's chi-square with expectations by position. In a shuffle both the rows' and the positions'
 * numbers are fixed, pass by pass, so that the statistic is (n − 1) / n of it, with (rows − 1)(parts − 1) degrees of freedom
 * (the variance of the hypergeometric distribution); with replacement the positions' alone, with (rows − 1) × parts.
 */
export function chanceOfUnevenness({ seen, expected, replacement, trialsOfPass }: PassCounts): number | null {
  const parts = seen[0]?.length ?? 0;
  if (seen.length < 2 || parts < 2 || trialsOfPass < 2) return null;
  let statistic = 0;
  for (const [row, counts] of seen.entries())
    for (const [part, count] of counts.entries()) {
      const mean = expected[row]?.[part] ?? 0;
      if (mean < leastExpected) return null;
      statistic += (count - mean) ** 2 / mean;
    }
  return replacement
    ? 1 - chisquareCdf(statistic, (seen.length - 1) * parts)
    : 1 - chisquareCdf((statistic * (trialsOfPass - 1)) / trialsOfPass, (seen.length - 1) * (parts - 1));
}

/** Whether the order of a block's trials is nothing but chance, which says how often a row is to come early or late. */
export const isByChanceAlone = ({ order }: Block): boolean =>
  (order.method === "shuffled" || order.method === "with-replacement") &&
  order.limits.length === 0 &&
  order.within === undefined &&
  order.take === undefined;

/**
 * How often each level follows each other one on average in a shuffle of these numbers of each: two places next to each
 * other are drawn without replacement.
 */
export function followersInShuffle(counts: readonly number[]): number[][] {
  const all = counts.reduce((sum, each) => sum + each, 0);
  return counts.map((first, a) =>
    counts.map((second, b) => (all === 0 ? 0 : (first * (a === b ? second - 1 : second)) / all)),
  );
}
