import { centreOf, type Centre } from "./centre";
import tQuantile from "@stdlib/stats-base-dists-t-quantile";

/** What a person did in a condition, added up; `rts` in milliseconds. */
type Sums = { rts: number[]; right: number; scored: number; trials: number };
/** The same of all persons, by person and by the name of the condition. */
export type People = Map<string, Map<string, Sums>>;

/** Adds a trial to what a person did in a condition. `right` is null where nothing is right or wrong, `rt` where no time is taken. */
export function addTrial(
  person: Map<string, Sums>,
  cell: string,
  { right, rt }: { right: boolean | null; rt: number | null },
): void {
  const sums = person.get(cell) ?? { rts: [], right: 0, scored: 0, trials: 0 };
  person.set(cell, sums);
  sums.trials++;
  if (right !== null) sums.scored++;
  if (right === true) sums.right++;
  if (rt !== null) sums.rts.push(rt);
}

/** A condition: its name, and its level of each factor that is compared. */
export type Condition = { cell: string; levels: readonly string[] };
/** `between`: for each factor, whether its levels lie between persons, each of whom has only one of them. */
export type Comparison = { between: boolean[]; cells: CellSummary[] };

export type CellSummary = {
  cell: string;
  persons: number;
  trials: number;
  /** Mean over persons of the middle of each one's times; null without any. */
  meanRt: number | null;
  /** Deviation between persons of those middles. */
  sdRt: number | null;
  /** Half the width of the 95 % interval; null with fewer than two persons. */
  intervalRt: number | null;
  /** Mean over persons of the share of right answers among trials that have a right answer. */
  accuracy: number | null;
  intervalAccuracy: number | null;
  points: { person: string; rt: number | null; accuracy: number | null }[];
};

export const mean = (values: readonly number[]): number | null =>
  values.length === 0 ? null : values.reduce((sum, value) => sum + value, 0) / values.length;

/** Standard deviation with n − 1; null with fewer than two values. */
export function deviation(values: readonly number[]): number | null {
  const centre = mean(values);
  if (centre === null || values.length < 2) return null;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - centre) ** 2, 0) / (values.length - 1));
}

/**
 * Reaction time, each person's as its middle of a kind, and accuracy by condition, each person counting once.
 * Conditions come in the order given.
 *
 * Intervals are within persons where persons have several of the conditions: among persons who have the same levels of
 * the factors that lie between persons, each person's values are freed of their own mean (Cousineau, 2005), and the
 * variance is corrected for the number of those conditions (Morey, 2008). With one condition a person they are
 * the ordinary intervals of a mean.
 */
export function summarize(people: People, conditions: readonly Condition[], centre: Centre = "mean"): Comparison {
  const all = [...people.values()];
  const levelsOf = (of: readonly Condition[], factor: number) => [...new Set(of.map(({ levels }) => levels[factor]))];
  const conditionsOf = (person: ReadonlyMap<string, Sums>) => conditions.filter(({ cell }) => person.has(cell));
  const between = (conditions[0]?.levels ?? []).map(
    (_, factor) =>
      levelsOf(conditions, factor).length > 1 &&
      all.every((person) => levelsOf(conditionsOf(person), factor).length <= 1),
  );
  const middles = new Map<Sums, number | null>();
  const rtOf = (sums: Sums | undefined): number | null => {
    if (!sums) return null;
    const known = middles.get(sums);
    if (known !== undefined) return known;
    const middle = centreOf(sums.rts, centre);
    middles.set(sums, middle);
    return middle;
  };
  const accuracyOf = (sums: Sums | undefined) => (sums && sums.scored > 0 ? sums.right / sums.scored : null);
  // Among persons who have the same levels of the factors that lie between persons: their conditions, and what they did in each.
  const groupOf = ({ levels }: Condition) => levels.filter((_, factor) => between[factor]).join("\u001f");
  const intervals = new Map<Condition, { rt: number | null; accuracy: number | null }>();
  const groups = new Map<string, Condition[]>();
  for (const each of conditions) groups.set(groupOf(each), [...(groups.get(groupOf(each)) ?? []), each]);
  for (const alike of groups.values()) {
    const same = all.filter((person) => alike.some((each) => person.has(each.cell)));
    const of = (valueOf: (sums: Sums | undefined) => number | null) =>
      withinIntervals(same.map((person) => alike.map(({ cell }) => valueOf(person.get(cell)))));
    const [rts, accuracies] = [of(rtOf), of(accuracyOf)];
    for (const [at, condition] of alike.entries())
      intervals.set(condition, { rt: rts[at] ?? null, accuracy: accuracies[at] ?? null });
  }
  const cells = conditions.map((condition): CellSummary => {
    const { cell } = condition;
    const points = [...people].flatMap(([person, byCell]) =>
      byCell.has(cell) ? [{ person, rt: rtOf(byCell.get(cell)), accuracy: accuracyOf(byCell.get(cell)) }] : [],
    );
    const rts = points.flatMap(({ rt }) => rt ?? []);
    const accuracies = points.flatMap(({ accuracy }) => accuracy ?? []);
    return {
      cell,
      persons: points.length,
      trials: all.reduce((sum, byCell) => sum + (byCell.get(cell)?.trials ?? 0), 0),
      meanRt: mean(rts),
      sdRt: deviation(rts),
      intervalRt: intervals.get(condition)?.rt ?? null,
      accuracy: mean(accuracies),
      intervalAccuracy: intervals.get(condition)?.accuracy ?? null,
      points,
    };
  });
  return { between, cells };
}

/**
 * Half-widths of the 95 % within-person intervals of the columns of a persons × conditions table; null cells are left out, and a
 * column with fewer than two has none. With one column it is the ordinary interval of a mean.
 */
export function withinIntervals(table: readonly (readonly (number | null)[])[]): (number | null)[] {
  const conditions = table[0]?.length ?? 0;
  const own = table.map((row) => mean(row.filter((value) => value !== null)));
  const grand = mean(own.filter((value) => value !== null));
  const correction = conditions > 1 ? Math.sqrt(conditions / (conditions - 1)) : 1;
  return Array.from({ length: conditions }, (_, column) => {
    const freed = table.flatMap((row, person) => {
      const [value, mid] = [row[column] ?? null, own[person] ?? null];
      if (value === null || mid === null || grand === null) return [];
      return [conditions > 1 ? value - mid + grand : value];
    });
    const spread = deviation(freed);
    if (spread === null) return null;
    return (tQuantile(0.975, freed.length - 1) * spread * correction) / Math.sqrt(freed.length);
  });
}
