/**
 * A quantile of sorted numbers, by linear interpolation between order statistics: type 7 of Hyndman and Fan (1996), as R's
 * `quantile`. `share` is from 0 to 1; not a number without numbers.
 */
export function quantile(sorted: ArrayLike<number>, share: number): number {
  const at = (sorted.length - 1) * share;
  const below = Math.floor(at);
  const [low, high] = [sorted[below] ?? NaN, sorted[Math.ceil(at)] ?? NaN];
  return low + (at - below) * (high - low);
}
