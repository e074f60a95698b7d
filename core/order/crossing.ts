import type { Id, Scalar } from "../values/ref";
import type { Row } from "../values/table";

export type CrossedFactor = { column: Id; levels: Scalar[] };

/** Every combination of the factors' levels, the last factor changing fastest; one empty combination for no factor. */
export const combinations = (factors: readonly CrossedFactor[]): Scalar[][] =>
  factors.reduce<Scalar[][]>((all, { levels }) => all.flatMap((one) => levels.map((level) => [...one, level])), [[]]);

/**
 * The combinations that no row of the table has yet, as rows' cells. Rows that are there keep what was edited by hand:
 * only their cells in the factors' columns are looked at.
 */
export function missingCombinations(rows: readonly Row[], factors: readonly CrossedFactor[]): Record<Id, Scalar>[] {
  const key = (values: readonly (Scalar | null)[]) => values.map((value) => String(value ?? "")).join("\u001f");
  const there = new Set(rows.map(({ cells }) => key(factors.map(({ column }) => cells[column] ?? null))));
  return combinations(factors)
    .filter((values) => !there.has(key(values)))
    .map((values) => Object.fromEntries(factors.map(({ column }, index) => [column, values[index] as Scalar])));
}

/** How often each combination of the factors' values is played, in the order of the table. */
export function combinationCounts(
  rows: readonly Row[],
  columns: readonly Id[],
  passes: number,
): { values: (Scalar | null)[]; trials: number }[] {
  const counts = new Map<string, { values: (Scalar | null)[]; trials: number }>();
  for (const { cells, copies } of rows) {
    const values = columns.map((id) => cells[id] ?? null);
    const key = values.map((value) => `${typeof value} ${value}`).join("\u001f");
    const known = counts.get(key) ?? { values, trials: 0 };
    counts.set(key, { values, trials: known.trials + copies * passes });
  }
  return [...counts.values()];
}
