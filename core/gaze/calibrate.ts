import type { PointCount } from "./point-counts";

/** A place on the stage in stage units: from the middle, to the right and upwards. */
export type Place = { x: number; y: number };
/** What was recorded of an eye while a point was looked at, sample by sample, in stage units; NaN where it was not seen. */
export type EyeSamples = { x: readonly number[]; y: readonly number[] };
/** A point that was shown, and what both eyes did meanwhile. */
export type PointLook = Place & { left: EyeSamples; right: EyeSamples };

export const eyes = ["left", "right"] as const;
export type Eye = (typeof eyes)[number];

/** How recorded places become places on the stage: coefficients of the terms of `termsOf`, for each direction. */
export type Fit = { x: readonly number[]; y: readonly number[] };
/** How both eyes were calibrated; null for one that was seen at too few points. */
export type Calibration = Record<Eye, Fit | null>;

/** Points of a calibration as shares of half the stage, −1 to 1. */
const layouts: Record<PointCount, readonly Place[]> = (() => {
  const at = (x: number, y: number): Place => ({ x, y });
  const far = 0.8;
  const corners = [at(-far, far), at(far, far), at(-far, -far), at(far, -far)];
  const edges = [at(0, far), at(-far, 0), at(far, 0), at(0, -far)];
  const inner = [at(-0.4, 0.4), at(0.4, 0.4), at(-0.4, -0.4), at(0.4, -0.4)];
  const middle = at(0, 0);
  return {
    one: [middle],
    five: [middle, ...corners],
    nine: [middle, ...corners, ...edges],
    thirteen: [middle, ...corners, ...edges, ...inner],
  };
})();
/** Between those of every calibration, so that what is told of them was not fitted. */
const others: readonly Place[] = [
  { x: -0.55, y: 0.25 },
  { x: 0.25, y: 0.55 },
  { x: 0.55, y: -0.25 },
  { x: -0.25, y: -0.55 },
];
const on = (half: Place, points: readonly Place[]): Place[] =>
  points.map(({ x, y }) => ({ x: x * half.x, y: y * half.y }));

/** The points that a calibration shows on a stage that reaches so far from its middle; and those that validate it. */
export const pointsOf = (count: PointCount, half: Place): Place[] => on(half, layouts[count]);
export const validationPoints = (half: Place): Place[] => on(half, others);

/** Terms of a polynomial in what was recorded, as many as there are coefficients: 1, x, y, xy, x², y². */
function termsOf(count: number, x: number, y: number): number[] {
  // From a hundred units on a side to about one, so that no term outweighs the others.
  const [u, v] = [x / 50, y / 50];
  return [1, u, v, u * v, u * u, v * v].slice(0, count);
}

const isSeen = (x: number, y: number) => !Number.isNaN(x) && !Number.isNaN(y);
const median = (values: readonly number[]): number => {
  const sorted = values.toSorted((a, b) => a - b);
  const middle = (sorted.length - 1) / 2;
  return ((sorted[Math.floor(middle)] ?? NaN) + (sorted[Math.ceil(middle)] ?? NaN)) / 2;
};

/** The samples of an eye that was seen. */
const seenOf = ({ x, y }: EyeSamples): Place[] =>
  x.flatMap((each, at) => (isSeen(each, y[at] ?? NaN) ? [{ x: each, y: y[at] ?? NaN }] : []));
/** In what share of its samples an eye was seen; 0 without any. */
export const shareSeen = (samples: EyeSamples): number =>
  samples.x.length === 0 ? 0 : seenOf(samples).length / samples.x.length;

/** Below this share of samples a point says nothing of an eye. */
const leastSeen = 0.5;
/** The place an eye was recorded at while it looked at a point: the median of its samples; null where it was hardly seen. */
function centreOf(samples: EyeSamples): Place | null {
  if (shareSeen(samples) < leastSeen) return null;
  const seen = seenOf(samples);
  return { x: median(seen.map(({ x }) => x)), y: median(seen.map(({ y }) => y)) };
}

/**
 * Fits each eye by least squares: a polynomial of the second order from nine points on, of the first with its product from five,
 * and a shift alone from fewer (Cerrolaza, Villanueva & Cabeza, 2012, on such polynomials).
 */
export function calibrate(looks: readonly PointLook[]): Calibration {
  const fit = (eye: Eye): Fit | null => {
    const points = looks.flatMap((look) => {
      const centre = centreOf(look[eye]);
      return centre ? [{ from: centre, to: { x: look.x, y: look.y } }] : [];
    });
    const [least, terms] = points.length >= 8 ? [8, 6] : points.length >= 5 ? [5, 4] : [1, 1];
    // Of an eye that was seen at one corner of many nothing is known elsewhere.
    if (points.length < least || (terms === 1 && looks.length > 1)) return null;
    // A shift is told against what was recorded: it is not its place that counts, but how far off it was.
    const off = (axis: "x" | "y") => points.map(({ from, to }) => to[axis] - from[axis]);
    const rows = points.map(({ from }) => termsOf(terms, from.x, from.y));
    const [x, y] = [leastSquares(rows, off("x")), leastSquares(rows, off("y"))];
    return x && y ? { x, y } : null;
  };
  return { left: fit("left"), right: fit("right") };
}

/** Where an eye looked, by how it was calibrated: the recorded place and what is fitted to be added to it. */
export function calibrated({ x: ofX, y: ofY }: Fit, { x, y }: Place): Place {
  const terms = termsOf(ofX.length, x, y);
  const sum = (coefficients: readonly number[]) =>
    terms.reduce((total, term, at) => total + term * (coefficients[at] ?? 0), 0);
  return { x: x + sum(ofX), y: y + sum(ofY) };
}

/** Solves the normal equations by elimination with pivots; null where they have no single solution. */
function leastSquares(rows: readonly number[][], wanted: readonly number[]): number[] | null {
  const size = rows[0]?.length ?? 0;
  const table = Array.from({ length: size }, (_, i) => [
    ...Array.from({ length: size }, (__, j) => rows.reduce((sum, row) => sum + (row[i] ?? 0) * (row[j] ?? 0), 0)),
    rows.reduce((sum, row, at) => sum + (row[i] ?? 0) * (wanted[at] ?? 0), 0),
  ]);
  const cell = (i: number, j: number) => table[i]?.[j] ?? 0;
  for (let column = 0; column < size; column++) {
    let pivot = column;
    for (let row = column + 1; row < size; row++)
      if (Math.abs(cell(row, column)) > Math.abs(cell(pivot, column))) pivot = row;
    if (Math.abs(cell(pivot, column)) < 1e-9) return null;
    [table[column], table[pivot]] = [table[pivot] as number[], table[column] as number[]];
    const head = table[column] as number[];
    for (let row = 0; row < size; row++) {
      if (row === column) continue;
      const factor = cell(row, column) / cell(column, column);
      table[row] = (table[row] as number[]).map((each, at) => each - factor * (head[at] ?? 0));
    }
  }
  return table.map((row, at) => (row[size] ?? 0) / (row[at] ?? 1));
}
