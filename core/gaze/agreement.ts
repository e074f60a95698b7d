import type { GazeEvents } from "./events";

/** Which times lie within one of these stretches, which follow each other. */
function within(times: Float64Array, stretches: readonly { from: number; to: number }[]): Uint8Array {
  const inside = new Uint8Array(times.length);
  let at = 0;
  times.forEach((now, index) => {
    while (at < stretches.length && now > (stretches[at]?.to ?? 0)) at++;
    const stretch = stretches[at];
    if (stretch && now >= stretch.from) inside[index] = 1;
  });
  return inside;
}

/**
 * How far two accounts of the same recording agree on when the eye rested, sample by sample: Cohen's (1960) kappa, 1 where they
 * are the same, 0 where they agree no more than by chance; NaN where both say the same of all samples and nothing else is possible.
 */
export function agreement(
  times: Float64Array,
  one: Pick<GazeEvents, "fixations">,
  other: Pick<GazeEvents, "fixations">,
): number {
  const [a, b] = [within(times, one.fixations), within(times, other.fixations)];
  let [same, first, second] = [0, 0, 0];
  for (let at = 0; at < times.length; at++) {
    if (a[at] === b[at]) same++;
    first += a[at] ?? 0;
    second += b[at] ?? 0;
  }
  const n = times.length;
  const chance = (first * second + (n - first) * (n - second)) / (n * n);
  return (same / n - chance) / (1 - chance);
}
