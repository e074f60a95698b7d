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
  const cells = conditions.map((condition): CellSummary => {
    const { cell } = condition;
    const points = [...people].flatMap(([person, byCell]) =>
      byCell.has(cell) ? [{ person, rt: rtOf(byCell.get(cell)), accuracy: accuracyOf(byCell.get(cell)) }] : [],
    );
    const rts = points.flatMap(({ rt }) => rt ?? []);
    const accuracies = points.flatMap(({ accuracy }) => accuracy ?? []);
    // The conditions that the same persons have, and those persons.
    const alike = conditions.filter(({ levels }) =>
      levels.every((level, factor) => !between[factor] || level === condition.levels[factor]),
    );
    const same = all.filter((person) => alike.some((each) => person.has(each.cell)));
    const interval = (valueOf: (sums: Sums | undefined) => number | null) =>
      withinInterval(
        same.map((person) => alike.map((each) => valueOf(person.get(each.cell)))),
        alike.indexOf(condition),
      );
    return {
      cell,
      persons: points.length,
      trials: all.reduce((sum, byCell) => sum + (byCell.get(cell)?.trials ?? 0), 0),
      meanRt: mean(rts),
      sdRt: deviation(rts),
      intervalRt: interval(rtOf),
      accuracy: mean(accuracies),
      intervalAccuracy: interval(accuracyOf),
      points,
    };
  });
  return { between, cells };
}

/** Half-width of the 95 % within-person interval of one column of a persons × conditions table; null cells are left out. With one column it is the ordinary interval of a mean. */
export function withinInterval(table: readonly (readonly (number | null)[])[], column: number): number | null {
  const conditions = table[0]?.length ?? 0;
  const persons = table.map((row) => ({
    own: mean(row.filter((value) => value !== null)),
    value: row[column] ?? null,
  }));
  const grand = mean(persons.flatMap(({ own }) => own ?? []));
  const freed = persons.flatMap(({ own, value }) =>
    own === null || value === null || grand === null ? [] : [conditions > 1 ? value - own + grand : value],
  );
  const spread = deviation(freed);
  if (spread === null) return null;
  const correction = conditions > 1 ? Math.sqrt(conditions / (conditions - 1)) : 1;
  return (tQuantile(0.975, freed.length - 1) * spread * correction) / Math.sqrt(freed.length);
}
