/** A round step, of which about six make up a range. */
function stepOf(low: number, high: number): number {
  const wanted = (high - low) / 6 || 1;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return ([1, 2, 5, 10].find((each) => each * power >= wanted) ?? 10) * power;
}
const multiples = (first: number, last: number, step: number) =>
  // Tenths and the like are no sums of themselves.
  Array.from({ length: last - first + 1 }, (_, at) => Number(((first + at) * step).toPrecision(12)));

/** Round numbers within a range. */
export function ticksWithin(low: number, high: number): number[] {
  const step = stepOf(low, high);
  return multiples(Math.ceil(low / step), Math.floor(high / step), step);
}

/** Round numbers of which the first and the last enclose a range. */
export function ticksAround(low: number, high: number): number[] {
  const step = stepOf(low, high);
  return multiples(Math.floor(low / step), Math.ceil(high / step), step);
}
