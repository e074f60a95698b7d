import type { StudyDocument } from "../design/document";
import type { Context } from "../values/context";
import type { OwnRow } from "../values/draws";
import type { Pool } from "../values/pool";
import type { Id, Scalar } from "../values/ref";
import { resolve } from "../values/resolve";
import { rowValues, type RowValues } from "../values/table";

/** A pool with what is looked up in it. Rows are counted from 0, as they stand in its table. */
export type PoolIndex = {
  pool: Pool;
  values: readonly RowValues[];
  /** Those that may be drawn at all. */
  rows: readonly number[];
  /** What fits, by conditions that were asked before. */
  known: Map<string, readonly number[]>;
};

const indexes = new WeakMap<Pool, Map<string, { groupValues: unknown; index: PoolIndex }>>();

export function poolIndexOf(study: StudyDocument, pool: Pool, group: Id): PoolIndex {
  const byGroup = indexes.get(pool) ?? new Map<string, { groupValues: unknown; index: PoolIndex }>();
  indexes.set(pool, byGroup);
  const found = byGroup.get(group);
  if (found?.groupValues === study.groupValues) return found.index;
  const index: PoolIndex = {
    pool,
    values: pool.table.rows.map((row) => rowValues(study, pool.table, row, group)),
    rows: pool.table.rows.flatMap(({ copies }, at) => (copies > 0 ? [at] : [])),
    known: new Map(),
  };
  byGroup.set(group, { groupValues: study.groupValues, index });
  return index;
}

/**
 * The rows of a pool that fit all conditions of a trial, whose values are in the context. `key` stands for the conditions: a
 * list of column, greatest distance (null for the same) and value, as JSON.
 */
export function eligibleIn(
  index: PoolIndex | undefined,
  where: OwnRow["where"],
  context: Context,
): { key: string; rows: readonly number[] } {
  const wanted = where.map(({ column, within, to }): [Id, number | null, Scalar | null] => [
    column,
    within ?? null,
    resolve(to, context),
  ]);
  const key = JSON.stringify(wanted);
  if (!index) return { key, rows: [] };
  const known = index.known.get(key);
  if (known) return { key, rows: known };
  const rows = index.rows.filter((row) =>
    wanted.every(([column, within, to]) => {
      const value = index.values[row]?.[column] ?? null;
      return within === null ? isSame(value, to) : isNear(value, to, within);
    }),
  );
  if (index.known.size < mostKnown) index.known.set(key, rows);
  return { key, rows };
}
const mostKnown = 5000;

/** Values are compared as texts; an empty one equals only an empty one. */
const isSame = (a: Scalar | null, b: Scalar | null): boolean => String(a ?? "") === String(b ?? "");

function isNear(a: Scalar | null, b: Scalar | null, within: number): boolean {
  const [one, other] = [asNumber(a), asNumber(b)];
  return one !== null && other !== null && Math.abs(one - other) <= within + 1e-9;
}

function asNumber(value: Scalar | null): number | null {
  if (value === null || value === "" || typeof value === "boolean") return null;
  const number = Number(value);
  return Number.isFinite(number) ? number : null;
}
