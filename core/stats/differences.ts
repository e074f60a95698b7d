import tCdf from "@stdlib/stats-base-dists-t-cdf";
import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { liesBetween, type Condition } from "./conditions";
import { deviation, mean } from "./describe";
import type { Values } from "./measures";

/** A size of an effect by its name in the literature. */
export type EffectSize = { name: "d_z" | "d_av" | "d_s"; value: number };
export type Difference = {
  /** The level of each other factor at which it is; null stands for the mean over all of its levels. */
  at: (string | null)[];
  /** Persons with both conditions, or those of each. */
  persons: [number] | [number, number];
  difference: number;
  /** The 95 % interval. */
  low: number;
  high: number;
  t: number;
  df: number;
  /** Two-sided. */
  p: number;
  /** The same after Holm (1979), where there are several places. */
  holm: number;
  effects: EffectSize[];
};

/** A level less another of one factor. */
export type Contrast = { factor: number; from: string; less: string };

/**
 * What a level of a factor has more than another at each combination of the levels of the other factors, and over all of
 * these if there are several; those that too few persons have are left out.
 *
 * Where persons have both levels these are differences within persons, tested by *t* for pairs, with d_z (the mean difference
 * by its standard deviation; Cohen, 1988) and d_av (by the mean of both standard deviations; Cumming, 2012). Where persons have
 * one of them, they are differences of means after Welch (1947), with d_s (by the pooled standard deviation; Cohen, 1988).
 * Names of the sizes follow Lakens (2013). Over all, each person comes with the mean over the places it has, and persons that
 * lack some of them are left out.
 */
export function differences(
  values: Values,
  conditions: readonly Condition[],
  { factor, from, less }: Contrast,
): Difference[] {
  const isBetween = liesBetween(values, conditions)[factor] === true;
  const places = new Map<string, { at: string[]; from?: string; less?: string }>();
  for (const { cell, levels } of conditions) {
    const level = levels[factor];
    if (level !== from && level !== less) continue;
    const at = levels.filter((_, each) => each !== factor);
    const place = places.get(at.join("\u001f")) ?? { at };
    places.set(at.join("\u001f"), { ...place, [level === from ? "from" : "less"]: cell });
  }
  const whole = [...places.values()].filter((place) => place.from !== undefined && place.less !== undefined);
  /** What persons have at some of the places, as they have them: a number for each place. */
  const column = (at: typeof whole, side: "from" | "less") =>
    [...values.values()].map((own) =>
      at.flatMap((place) => own.get(place[side] ?? "") ?? []).filter((value) => Number.isFinite(value)),
    );
  const compared = (at: typeof whole): Omit<Difference, "at" | "holm"> | null => {
    const [a, b] = [column(at, "from"), column(at, "less")];
    const most = (side: number[][]) => side.reduce((found, { length }) => Math.max(found, length), 1);
    const middles = (side: number[][]) => side.map((own) => (own.length === most(side) ? mean(own) : null));
    const [as, bs] = [middles(a), middles(b)];
    if (!isBetween)
      return paired(as.flatMap((value, person) => (value === null || bs[person] == null ? [] : [[value, bs[person]]])));
    const told = (side: (number | null)[]) => side.filter((value) => value !== null);
    return independent(told(as), told(bs));
  };
  const single = whole.flatMap((place) => {
    const found = compared([place]);
    return found ? [{ at: place.at as (string | null)[], ...found }] : [];
  });
  const corrected = holm(single.map(({ p }) => p));
  const all = whole.length > 1 ? compared(whole) : null;
  return [
    ...single.map((each, index) => ({ ...each, holm: corrected[index] ?? each.p })),
    ...(all ? [{ at: (whole[0]?.at ?? []).map(() => null), ...all, holm: all.p }] : []),
  ];
}

const tested = (difference: number, error: number, df: number) => {
  const t = difference / error;
  const half = tQuantile(0.975, df) * error;
  return { difference, low: difference - half, high: difference + half, t, df, p: 2 * tCdf(-Math.abs(t), df) };
};

/** Of pairs of numbers; null unless there are two that differ in their difference. */
function paired(pairs: readonly (readonly number[])[]): Omit<Difference, "at" | "holm"> | null {
  const of = (at: 0 | 1) => pairs.map((pair) => pair[at] as number);
  const gained = pairs.map(([a, b]) => (a as number) - (b as number));
  const [centre, spread] = [mean(gained), deviation(gained)];
  if (centre === null || !spread) return null;
  const both = ((deviation(of(0)) ?? 0) + (deviation(of(1)) ?? 0)) / 2;
  return {
    persons: [pairs.length],
    ...tested(centre, spread / Math.sqrt(pairs.length), pairs.length - 1),
    effects: [
      { name: "d_z", value: centre / spread },
      ...(both > 0 ? [{ name: "d_av" as const, value: centre / both }] : []),
    ],
  };
}

/** Of two groups; null unless each has two members and some of them differ. */
function independent(a: readonly number[], b: readonly number[]): Omit<Difference, "at" | "holm"> | null {
  const [sdA, sdB] = [deviation(a), deviation(b)];
  const [meanA, meanB] = [mean(a), mean(b)];
  if (sdA === null || sdB === null || meanA === null || meanB === null || sdA + sdB === 0) return null;
  const [shareA, shareB] = [sdA ** 2 / a.length, sdB ** 2 / b.length];
  const df = (shareA + shareB) ** 2 / (shareA ** 2 / (a.length - 1) + shareB ** 2 / (b.length - 1));
  const pooled = Math.sqrt(((a.length - 1) * sdA ** 2 + (b.length - 1) * sdB ** 2) / (a.length + b.length - 2));
  return {
    persons: [a.length, b.length],
    ...tested(meanA - meanB, Math.sqrt(shareA + shareB), df),
    effects: [{ name: "d_s", value: (meanA - meanB) / pooled }],
  };
}

/** Probabilities corrected for their number (Holm, 1979), in the order they came in. */
export function holm(ps: readonly number[]): number[] {
  const order = ps.map((_, at) => at).sort((a, b) => (ps[a] as number) - (ps[b] as number));
  const corrected = Array<number>(ps.length).fill(1);
  let least = 0;
  for (const [rank, at] of order.entries()) {
    least = Math.max(least, Math.min(1, (ps.length - rank) * (ps[at] as number)));
    corrected[at] = least;
  }
  return corrected;
}
