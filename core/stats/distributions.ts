import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { withinIntervals } from "./conditions";
import { deviation, mean } from "./describe";
import { densityAt } from "./density";
import { exGaussianOf, type ExGaussian } from "./ex-gaussian";
import { quantile } from "./quantile";

/** The times of a person in a condition, sorted, and of all answered trials whether they were right, in the order of their times. */
export type Timed = { times: Float64Array; speeds: Float64Array; right: Uint8Array };
/** By person, by condition. */
export type TimedPeople = ReadonlyMap<string, ReadonlyMap<string, Timed>>;

/** A point of a curve: `half` is half the width of its 95 % interval. */
export type CurvePoint = { x: number; y: number; half: number | null };
export type Curve = { level: string; persons: number; trials: number; points: CurvePoint[] };

export const shapes = {
  quantiles: "quantiles",
  density: "density",
  histogram: "histogram",
  cumulative: "cumulative share",
  delta: "delta plot",
  accuracy: "accuracy by speed",
  "ex-gaussian": "ex-Gaussian parameters",
} as const;
export type Shape = keyof typeof shapes;
export const shapeNames = Object.keys(shapes) as Shape[];

/** More curves than these cannot be told apart in one figure. */
export const mostCurves = 24;
/** The shares at which quantiles are taken. */
export const shares = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9];
/** Into so many parts of equal size a person's trials are put by their speed. */
export const speedBins = 5;
/** With fewer times in a condition a person has no quantiles of it. */
export const fewestTimes = 5;
/** A smooth curve has so many points. */
const curvePoints = 121;

type Own = Map<string, Timed>;

/** The persons who have enough in every condition, where conditions are within persons; else those of each condition. */
function complete(
  people: TimedPeople,
  levels: readonly string[],
  isEnough: (timed: Timed) => boolean,
): [string, Own][] {
  const enough = [...people].map(
    ([person, own]) =>
      [person, new Map([...own].filter(([level, timed]) => levels.includes(level) && isEnough(timed)))] as [
        string,
        Own,
      ],
  );
  const isWithin = [...people.values()].some((own) => levels.filter((level) => own.has(level)).length > 1);
  return enough.filter(([, own]) => (isWithin ? own.size === levels.length : own.size > 0));
}

/** A value for each person and condition at each of several places, averaged over persons, with intervals within persons. */
function averaged(
  people: readonly [string, Own][],
  levels: readonly string[],
  places: readonly number[],
  valueAt: (timed: Timed, place: number) => number,
  xAt: (timed: Timed, place: number) => number,
): Curve[] {
  const isWithin = people.some(([, own]) => own.size > 1);
  const held = levels.map((level) => people.flatMap(([, byLevel]) => byLevel.get(level) ?? []));
  const curves = levels.map((level, at): Curve => {
    const own = held[at] ?? [];
    return { level, persons: own.length, trials: own.reduce((sum, { times }) => sum + times.length, 0), points: [] };
  });
  for (const place of places) {
    const values = held.map((own) => own.map((timed) => valueAt(timed, place)));
    // Within persons everybody who is here has all conditions, in the same order.
    const intervals = isWithin
      ? withinIntervals(people.map((_, person) => values.map((own) => own[person] ?? null)))
      : values.map((own) => withinIntervals(own.map((value) => [value]))[0] ?? null);
    for (const [at, curve] of curves.entries()) {
      const y = mean(values[at] ?? []);
      const x = mean((held[at] ?? []).map((timed) => xAt(timed, place)));
      if (y !== null && x !== null) curve.points.push({ x, y, half: intervals[at] ?? null });
    }
  }
  return curves;
}
const numberOr = (timed: Timed | undefined, of: (timed: Timed) => number) => (timed ? of(timed) : null);

/**
 * Quantiles of times averaged over persons (vincentized: Ratcliff, 1979), of type 7, by condition: x is the share, y milliseconds.
 * Intervals are those of `summarize`. Persons with fewer than five times in one of their conditions are out.
 */
export const vincentized = (people: TimedPeople, levels: readonly string[]): Curve[] =>
  averaged(
    complete(people, levels, ({ times }) => times.length >= fewestTimes),
    levels,
    shares,
    ({ times }, share) => quantile(times, share),
    (_, share) => share,
  );

/**
 * The differences between two conditions at each share (Ridderinkhof, 2002): x is the mean of the two quantiles, y the second's minus
 * the first's, averaged over persons who have both; intervals are those of the mean difference (t).
 */
export function deltas(people: TimedPeople, [first, second]: readonly [string, string]): Curve {
  const both = complete(people, [first, second], ({ times }) => times.length >= fewestTimes).flatMap(([, own]) => {
    const [a, b] = [own.get(first), own.get(second)];
    return a && b ? [{ a, b }] : [];
  });
  const points = shares.flatMap((share): CurvePoint[] => {
    const pairs = both.map(({ a, b }) => [quantile(a.times, share), quantile(b.times, share)] as const);
    const differences = pairs.map(([a, b]) => b - a);
    const [x, y] = [mean(pairs.map(([a, b]) => (a + b) / 2)), mean(differences)];
    const spread = deviation(differences);
    if (x === null || y === null) return [];
    const n = differences.length;
    return [{ x, y, half: spread === null ? null : (tQuantile(0.975, n - 1) * spread) / Math.sqrt(n) }];
  });
  const trials = both.reduce((sum, { a, b }) => sum + a.times.length + b.times.length, 0);
  return { level: `${second} − ${first}`, persons: both.length, trials, points };
}

/** From where to where the trials of one part of equal size lie, among so many. */
const bin = (count: number, part: number) =>
  [Math.round((count * part) / speedBins), Math.round((count * (part + 1)) / speedBins)] as const;

/** The share of right answers by speed (conditional accuracy): each person's trials in five parts of equal size, x their mean time, y per cent. */
export const accuracyBySpeed = (people: TimedPeople, levels: readonly string[]): Curve[] =>
  averaged(
    complete(people, levels, ({ speeds }) => speeds.length >= 2 * speedBins),
    levels,
    Array.from({ length: speedBins }, (_, part) => part),
    ({ right, speeds }, part) => {
      const [from, to] = bin(speeds.length, part);
      return (100 * right.subarray(from, to).reduce((sum, is) => sum + is, 0)) / (to - from);
    },
    ({ speeds }, part) => {
      const [from, to] = bin(speeds.length, part);
      return speeds.subarray(from, to).reduce((sum, time) => sum + time, 0) / (to - from);
    },
  ).map((curve) => ({ ...curve, trials: countIn(people, curve.level, ({ speeds }) => speeds.length) }));

/** The parameters of the ex-Gaussian distribution, in the order of `parametersOf`. */
export const parameterNames = ["μ", "σ", "τ"];

/**
 * The parameters fitted to each person’s times in each condition, averaged over persons: x is the parameter’s place, y
 * milliseconds. Persons who have fewer than `fewest` times in one of their conditions, or to whom one cannot be fitted, are out.
 */
export function exGaussians(people: TimedPeople, levels: readonly string[], fewest: number): Curve[] {
  const fits = new Map<Timed, ExGaussian | null>();
  const fitOf = (timed: Timed) => {
    const known = fits.get(timed);
    if (known !== undefined) return known;
    const fit = timed.times.length < fewest ? null : exGaussianOf(timed.times);
    fits.set(timed, fit);
    return fit;
  };
  return averaged(
    complete(people, levels, (timed) => fitOf(timed) !== null),
    levels,
    [0, 1, 2],
    (timed, place) => {
      const fit = fitOf(timed);
      return fit ? ([fit.mu, fit.sigma, fit.tau][place] as number) : NaN;
    },
    (_, place) => place,
  );
}

const countIn = (people: TimedPeople, level: string, of: (timed: Timed) => number) =>
  [...people.values()].reduce((sum, own) => sum + (numberOr(own.get(level), of) ?? 0), 0);

/** All times of a condition together, sorted. */
function pooled(people: TimedPeople, level: string): { times: Float64Array; persons: number } {
  const own = [...people.values()]
    .flatMap((byLevel) => byLevel.get(level)?.times ?? [])
    .filter(({ length }) => length > 0);
  const times = new Float64Array(own.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const some of own) {
    times.set(some, at);
    at += some.length;
  }
  return { times: times.sort(), persons: own.length };
}

/** The ends of an axis that holds nearly all times: beyond the slowest five in a thousand nothing is drawn. */
function span(all: readonly Float64Array[]): [number, number] {
  const ends = all.filter(({ length }) => length > 0).map((times) => [times[0] ?? 0, quantile(times, 0.995)] as const);
  return ends.length === 0
    ? [0, 1]
    : [Math.min(...ends.map(([low]) => low)), Math.max(...ends.map(([, high]) => high))];
}

const grid = ([low, high]: readonly [number, number]) =>
  Array.from({ length: curvePoints }, (_, at) => low + ((high - low) * at) / (curvePoints - 1));

/** The density of all times of each condition together: x milliseconds, y per cent a millisecond. */
export function densities(people: TimedPeople, levels: readonly string[]): Curve[] {
  const all = levels.map((level) => pooled(people, level));
  const [low, high] = span(all.map(({ times }) => times));
  const margin = (high - low) * 0.08;
  const places = grid([Math.max(0, low - margin), high + margin]);
  return levels.map((level, at) => {
    const { times, persons } = all[at] ?? { times: new Float64Array(), persons: 0 };
    const density = densityAt(times, places);
    const points = density.map((y, index) => ({ x: places[index] ?? 0, y: 100 * y, half: null }));
    return { level, persons, trials: times.length, points };
  });
}

/** A width for bins: that of Freedman and Diaconis (1981), rounded to 1, 2 or 5 times a power of ten. */
export function binWidth(sorted: ArrayLike<number>): number {
  const wanted = (2 * (quantile(sorted, 0.75) - quantile(sorted, 0.25))) / Math.cbrt(sorted.length || 1);
  if (!(wanted > 0)) return 10;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return ([1, 2, 5, 10].find((each) => each * power >= wanted) ?? 10) * power;
}

/** How many of each condition's times lie in each bin, in per cent of them: x is where a bin begins. */
export function histograms(people: TimedPeople, levels: readonly string[]): { width: number; curves: Curve[] } {
  const all = levels.map((level) => pooled(people, level));
  const [low, high] = span(all.map(({ times }) => times));
  const widths = all.filter(({ times }) => times.length > 1).map(({ times }) => binWidth(times));
  const width = widths.length === 0 ? 10 : Math.max(...widths, (high - low) / 200);
  const first = Math.floor(low / width);
  const last = Math.floor(high / width);
  const curves = levels.map((level, at): Curve => {
    const { times, persons } = all[at] ?? { times: new Float64Array(), persons: 0 };
    const counts = new Uint32Array(last - first + 1);
    for (const time of times) {
      const place = Math.floor(time / width) - first;
      if (place < counts.length) counts[place] = (counts[place] as number) + 1;
    }
    const points = Array.from(counts, (count, place) => ({
      x: (first + place) * width,
      y: times.length === 0 ? 0 : (100 * count) / times.length,
      half: null,
    }));
    return { level, persons, trials: times.length, points };
  });
  return { width, curves };
}

/** The share of a person's times up to each moment, averaged over persons: x milliseconds, y per cent. */
export function cumulative(people: TimedPeople, levels: readonly string[]): Curve[] {
  const places = grid(span(levels.map((level) => pooled(people, level).times)));
  return levels.map((level) => {
    const own = [...people.values()]
      .flatMap((byLevel) => byLevel.get(level)?.times ?? [])
      .filter(({ length }) => length > 0);
    const sums = new Float64Array(places.length);
    for (const times of own) {
      let passed = 0;
      for (const [at, place] of places.entries()) {
        while (passed < times.length && (times[passed] as number) <= place) passed++;
        sums[at] = (sums[at] as number) + passed / times.length;
      }
    }
    const points =
      own.length === 0 ? [] : places.map((x, at) => ({ x, y: (100 * (sums[at] ?? 0)) / own.length, half: null }));
    return { level, persons: own.length, trials: own.reduce((sum, { length }) => sum + length, 0), points };
  });
}
