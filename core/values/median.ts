/** The middle of some numbers; of an even count the mean of the two in the middle, of none not a number. */
export function medianOf(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const half = Math.floor(sorted.length / 2);
  const [below, above] = [sorted[half - 1] ?? NaN, sorted[half] ?? NaN];
  return sorted.length % 2 === 1 ? above : (below + above) / 2;
}
