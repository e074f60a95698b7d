import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { deviation, mean } from "./describe";
import type { Values } from "./measures";

/** A condition: its name, and its level of each factor that is compared. */
export type Condition = { cell: string; levels: readonly string[] };
/** `between`: for each factor, whether its levels lie between persons, each of whom has only one of them. */
export type Comparison = { between: boolean[]; cells: CellSummary[] };

/** What persons have in a condition; those alone who have anything. */
export type CellSummary = {
  cell: string;
  persons: number;
  /** Null without any. */
  mean: number | null;
  /** Deviation between persons; null with fewer than two. */
  sd: number | null;
  /** Half the width of the 95 % interval; null with fewer than two. */
  interval: number | null;
  points: { person: string; value: number }[];
};

/** For each factor, whether its levels lie between persons, each of whom has only one of them. */
export const liesBetween = (values: Values, conditions: readonly Condition[]): boolean[] => {
  const levelsOf = (of: readonly Condition[], factor: number) => new Set(of.map(({ levels }) => levels[factor]));
  const ofPersons = [...values.values()].map((own) => conditions.filter(({ cell }) => own.has(cell)));
  return (conditions[0]?.levels ?? []).map(
    (_, factor) => levelsOf(conditions, factor).size > 1 && ofPersons.every((own) => levelsOf(own, factor).size <= 1),
  );
};

/**
 * What persons have in each condition, each person counting once. Conditions come in the order given.
 *
 * Intervals are within persons where persons have several of the conditions: among persons who have the same levels of
 * the factors that lie between persons, each person's values are freed of their own mean (Cousineau, 2005), and the
 * variance is corrected for the number of those conditions (Morey, 2008). With one condition a person they are
 * the ordinary intervals of a mean.
 */
export function summarize(values: Values, conditions: readonly Condition[]): Comparison {
  const between = liesBetween(values, conditions);
  // Among persons who have the same levels of the factors that lie between persons: their conditions, and what they have in each.
  const groupOf = ({ levels }: Condition) => levels.filter((_, factor) => between[factor]).join("\u001f");
  const intervals = new Map<Condition, number | null>();
  const groups = new Map<string, Condition[]>();
  for (const each of conditions) groups.set(groupOf(each), [...(groups.get(groupOf(each)) ?? []), each]);
  for (const alike of groups.values()) {
    const same = [...values.values()].filter((own) => alike.some(({ cell }) => own.has(cell)));
    const found = withinIntervals(same.map((own) => alike.map(({ cell }) => own.get(cell) ?? null)));
    for (const [at, condition] of alike.entries()) intervals.set(condition, found[at] ?? null);
  }
  const cells = conditions.map((condition): CellSummary => {
    const { cell } = condition;
    const points = [...values].flatMap(([person, own]) => {
      const value = own.get(cell) ?? null;
      return value === null ? [] : [{ person, value }];
    });
    const numbers = points.map(({ value }) => value);
    return {
      cell,
      persons: points.length,
      mean: mean(numbers),
      sd: deviation(numbers),
      interval: intervals.get(condition) ?? null,
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
