import type { OwnRow } from "../values/draws";
import type { Id, Scalar } from "../values/ref";
import type { RowValues } from "../values/table";
import type { PoolIndex } from "./eligible";
import type { Task } from "./tasks";

/** A trial that is to have a row of a pool for one of its columns. */
export type Slot = {
  task: Task;
  /** Which trial of the block, from 0. */
  index: number;
  /** What its row of the trial table has. */
  values: RowValues;
  /** Whether its row is one that a block showed before; null where that does not matter. */
  isShown: boolean | null;
  reach: OwnRow["once"];
  /** What its conditions ask for, the same for those that ask the same; and the rows that fit. */
  key: string;
  rows: readonly number[];
};

/** Whether a trial is to have a row that was shown before. */
export const isFromBefore = ({ shown }: NonNullable<OwnRow["before"]>, values: RowValues): boolean =>
  typeof shown === "boolean" ? shown : String(values[shown.column] ?? "") === String(shown.is);

/** Trials by their level of a column, levels in a fixed order. */
export function byLevel(slots: readonly Slot[], column: Id): Slot[][] {
  const levels = new Map<string, Slot[]>();
  for (const slot of slots) {
    const level = String(slot.values[column] ?? "");
    levels.set(level, [...(levels.get(level) ?? []), slot]);
  }
  return [...levels].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, own]) => own);
}

/** What rows a trial needs, by the pool’s columns. */
export function wantedInWords({ isShown, key }: Slot, index: PoolIndex): string {
  const name = (column: Id) =>
    index.pool.table.columns.find(({ id }) => id === column)?.name ?? "a column that is gone";
  const conditions = (JSON.parse(key) as [Id, number | null, Scalar | null][]).map(([column, within, to]) =>
    within === null ? `${name(column)} ${to ?? "empty"}` : `${name(column)} within ${within} of ${to ?? "nothing"}`,
  );
  if (isShown !== null) conditions.push(isShown ? "shown before" : "not shown before");
  return conditions.join(", ");
}

/**
 * The rows of a share, turned by a participant's list: the first level gets what another one has in the next list, so that over
 * all lists each row comes with each level where these have equally many trials.
 */
export function turnedBy(share: readonly number[], levels: readonly (readonly Slot[])[], list: number): number[] {
  const [first] = levels;
  const isEven = levels.every(({ length }) => length === first?.length);
  const by =
    levels.length < 2 ? 0 : isEven ? list * (first?.length ?? 0) : Math.floor((list * share.length) / levels.length);
  return share.map((_, place) => share[(place + by) % share.length] as number);
}
