import { number, oneOf } from "../shape/plain";
import { optional, type Of } from "../shape/shape";
import type { object } from "../shape/compound";

/** The values that can be shown, and how they are counted. */
export const rangeFields = {
  least: number({ least: -1e9, most: 1e9 }),
  most: number({ least: -1e9, most: 1e9 }),
  /** Steps are differences, or ratios told as differences of decimal logarithms. */
  scale: oneOf("linear", "logarithmic"),
  /** Which values are harder. */
  harder: oneOf("lower", "higher"),
  /** Values are multiples of this: whole frames, whole elements. */
  roundTo: optional(number({ above: 0 })),
};
export type Range = Of<ReturnType<typeof object<typeof rangeFields>>>;

/** What is wrong with a range; null where nothing is. */
export function rangeProblem({ least, most, scale, roundTo }: Range): { field: string; message: string } | null {
  if (most <= least) return { field: "most", message: "must be greater than the least value" };
  if (scale === "logarithmic" && least <= 0)
    return { field: "least", message: "must be greater than 0 where steps are ratios" };
  if (roundTo !== undefined && multiplesIn(least, most, roundTo) < 2)
    return { field: "roundTo", message: "is so large that fewer than two values are left" };
  return null;
}
const multiplesIn = (least: number, most: number, of: number) =>
  Math.floor(most / of + 1e-9) - Math.ceil(least / of - 1e-9) + 1;

/** A value's place on its scale; the higher it is, the easier. */
export function placeOf(range: Range, value: number): number {
  const place = range.scale === "logarithmic" ? Math.log10(value) : value;
  return range.harder === "lower" ? place : -place;
}

/** The value at a place: the inverse of `placeOf`. */
export function valueAt(range: Range, place: number): number {
  const along = range.harder === "lower" ? place : -place;
  return range.scale === "logarithmic" ? 10 ** along : along;
}

/** The places of the hardest and the easiest value. */
export function endsOf(range: Range): { hardest: number; easiest: number } {
  const [a, b] = [placeOf(range, range.least), placeOf(range, range.most)];
  return { hardest: Math.min(a, b), easiest: Math.max(a, b) };
}

/** So many significant digits are kept of a value, so that it is the same wherever it is worked out. */
const digits = 6;
export const settledNumber = (value: number): number => Number(value.toPrecision(digits));

/** A value that can be shown: within the range, a multiple where it has to be, of six significant digits. */
export function shownValue({ least, most, roundTo }: Range, value: number): number {
  const within = Math.min(most, Math.max(least, value));
  if (roundTo === undefined) return settledNumber(within);
  const [lowest, highest] = [Math.ceil(least / roundTo - 1e-9), Math.floor(most / roundTo + 1e-9)];
  return settledNumber(roundTo * Math.min(highest, Math.max(lowest, Math.round(within / roundTo))));
}

/** What a value that follows the answers is while nothing is answered: where it starts, or what is expected, or the middle. */
export const valueAsDesigned = (range: Range & { start?: number; expected?: { value: number } | undefined }): number =>
  shownValue(
    range,
    range.start ??
      range.expected?.value ??
      valueAt(range, (placeOf(range, range.least) + placeOf(range, range.most)) / 2),
  );
