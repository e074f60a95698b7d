/**
 * By how many standard deviations a time may differ, by how many times there are: the moving criterion of the modified
 * recursive procedure (Van Selst & Jolicoeur, 1994, Table 4). Between the sizes given it is interpolated; above the last it stays.
 */
const criteria: readonly (readonly [count: number, deviations: number])[] = [
  ...([
    [4, 8],
    [5, 6.2],
    [6, 5.3],
    [7, 4.8],
    [8, 4.475],
    [9, 4.25],
    [10, 4.11],
    [11, 4],
    [12, 3.92],
    [13, 3.85],
    [14, 3.8],
    [15, 3.75],
    [20, 3.64],
    [25, 3.595],
    [30, 3.55],
    [35, 3.54],
    [50, 3.528],
    [100, 3.51],
  ] as const),
];
/** Fewer times are never judged. */
export const fewest = 4;

/** The criterion for so many times, from 4 on. */
export function criterionFor(count: number): number {
  const after = criteria.findIndex(([size]) => size >= count);
  const [lastSize, last] = criteria.at(-1) ?? [0, 0];
  if (after < 0 || count >= lastSize) return last;
  const [size, deviations] = criteria[after] ?? [lastSize, last];
  const [before, earlier] = criteria[after - 1] ?? [size, deviations];
  return size === before ? deviations : earlier + ((deviations - earlier) * (count - before)) / (size - before);
}

/**
 * Which times a cell loses by the modified recursive procedure (Van Selst & Jolicoeur, 1994): the slowest is put aside, mean and
 * standard deviation are taken of the others, and the slowest and the fastest of all go if they lie further from that mean than
 * the criterion for as many times as there are now; this is done again until none goes, or fewer than four are left. Gives
 * the places of those that go.
 */
export function recursivelyOut(times: ArrayLike<number>): number[] {
  const order = new Uint32Array(times.length);
  for (let at = 0; at < order.length; at++) order[at] = at;
  order.sort((a, b) => (times[a] as number) - (times[b] as number));
  const sorted = new Float64Array(order.length);
  for (let at = 0; at < order.length; at++) sorted[at] = times[order[at] as number] as number;
  let [low, high] = [0, sorted.length];
  // Sums about a time of the cell keep their digits.
  const base = sorted[low] ?? 0;
  let [sum, squares] = [0, 0];
  for (const time of sorted) {
    sum += time - base;
    squares += (time - base) ** 2;
  }
  const out: number[] = [];
  const take = (at: number) => {
    const own = (sorted[at] as number) - base;
    sum -= own;
    squares -= own ** 2;
    out.push(order[at] as number);
  };
  while (high - low >= fewest) {
    const count = high - low;
    const slowest = (sorted[high - 1] as number) - base;
    const others = count - 1;
    const mean = (sum - slowest) / others;
    const variance = Math.max(0, (squares - slowest ** 2 - others * mean ** 2) / (others - 1));
    const width = criterionFor(count) * Math.sqrt(variance);
    const isSlow = slowest > mean + width;
    const isFast = (sorted[low] as number) - base < mean - width;
    if (!isSlow && !isFast) break;
    if (isSlow) take(--high);
    if (isFast) take(low++);
  }
  return out;
}
