import { type Limit, limitKind } from "../../limits/registry";
import type { Bound, Classed } from "../../limits/kind";

/** A trial that can be drawn: its row's index in the table. Copies of a row are several trials of that row. */
export type Stretch = {
  /** Rows of the trials that are put in order within this stretch, copies repeated. */
  rows: readonly number[];
  /** How many are drawn where rows are drawn with replacement; otherwise all of them are played once. */
  draws: number;
};

/**
 * What is to be put in order: stretches (passes or sub-blocks) that follow each other, the trials of each in any order,
 * and limits over the whole. Rows that no limit tells apart are of one kind; kinds are put in order first, rows after.
 */
export type Problem = {
  stretches: Stretch[];
  replacement: boolean;
  length: number;
  /** The stretch of each position. */
  stretchAt: Int32Array;
  /** The kind of each row that occurs. */
  kindOf: Map<number, number>;
  kinds: number;
  /** For each stretch, how many trials of each kind it holds. */
  counts: Int32Array[];
  limits: { limit: Limit; classed: Classed; bound: Bound }[];
};

/**
 * Puts limits to stretches of trials. `valueOf` gives a row's value in a column as text; `nameOf` a column's name.
 */
export function problemOf(
  stretches: Stretch[],
  replacement: boolean,
  limits: readonly Limit[],
  valueOf: (row: number, column: string) => string,
  nameOf: (column: string) => string,
): Problem {
  const length = stretches.reduce((sum, { draws }) => sum + draws, 0);
  const rows = [...new Set(stretches.flatMap((stretch) => stretch.rows))].sort((a, b) => a - b);
  const keys = limits.map((limit) => {
    const columns = limitKind(limit).columns(limit);
    return (row: number) =>
      columns.length === 0 ? `row ${row + 1}` : columns.map((column) => valueOf(row, column)).join(" + ");
  });
  const kindOf = new Map<number, number>();
  const byKey = new Map<string, number>();
  for (const row of rows) {
    const key = keys.map((each) => each(row)).join("\u001f");
    const kind = byKey.get(key) ?? byKey.size;
    byKey.set(key, kind);
    kindOf.set(row, kind);
  }
  const kinds = byKey.size;
  const counts = stretches.map((stretch) => {
    const all = new Int32Array(kinds);
    for (const row of stretch.rows) {
      const kind = kindOf.get(row) as number;
      all[kind] = (all[kind] as number) + 1;
    }
    return all;
  });
  const stretchAt = new Int32Array(length);
  let at = 0;
  stretches.forEach(({ draws }, index) => {
    stretchAt.fill(index, at, at + draws);
    at += draws;
  });
  return {
    stretches,
    replacement,
    length,
    stretchAt,
    kindOf,
    kinds,
    counts,
    limits: limits.map((limit, index) => {
      const key = keys[index] as (row: number) => string;
      const labels: string[] = [];
      const classOf = new Int32Array(kinds);
      for (const row of rows) {
        const label = key(row);
        if (!labels.includes(label)) labels.push(label);
        classOf[kindOf.get(row) as number] = labels.indexOf(label);
      }
      const ofClass = labels.map((_, each) =>
        counts.reduce(
          (sum, all) => sum + all.reduce((inner, count, kind) => inner + (classOf[kind] === each ? count : 0), 0),
          0,
        ),
      );
      const columns = limitKind(limit).columns(limit);
      const classed: Classed = {
        classOf,
        labels: columns.length === 0 ? labels.map((label) => label.slice(4)) : labels,
        subject: columns.length === 0 ? "row" : columns.map(nameOf).join(" and "),
        total: length,
        counts: replacement ? ofClass.map((count) => (count > 0 ? Infinity : 0)) : ofClass,
      };
      return { limit, classed, bound: limitKind(limit).bind(limit, classed) };
    }),
  };
}

/** How much an order of kinds breaks in all; 0 where it satisfies every limit. */
export function brokenIn({ limits }: Problem, kinds: Int32Array): number {
  let sum = 0;
  for (const { bound } of limits) {
    if (bound.transitions) {
      bound.transitions.reset(kinds);
      sum += bound.transitions.cost();
    } else if (kinds.length > 0) sum += bound.broken(kinds, 0, kinds.length - 1);
  }
  return sum;
}
