import type { Block } from "../design/block";
import type { Id, Scalar } from "../values/ref";
import type { RowValues } from "../values/table";
import { drawsIn } from "./tasks";

/** The trials of a block as they are ordered, with what each takes from pools. */
export type Placed = {
  block: Block;
  rows: RowValues[];
  /** Rows of pools, by index, for each trial, by column. */
  taken: Map<Id, number>[];
  /** What stands in the columns. */
  values: Record<Id, Scalar | null>[];
};

/** The rows of pools that a block uses, by pool. */
export function usedIn({ block, taken }: Placed): Map<Id, Set<number>> {
  const used = new Map<Id, Set<number>>();
  for (const { column, own } of drawsIn(block)) {
    const rows = used.get(own.pool) ?? new Set<number>();
    used.set(own.pool, rows);
    for (const each of taken) {
      const row = each.get(column.id);
      if (row !== undefined) rows.add(row);
    }
  }
  return used;
}

/** The rows of pools that blocks use together, by pool. */
export function unionOf(all: readonly Placed[]): Map<Id, Set<number>> {
  const union = new Map<Id, Set<number>>();
  for (const placed of all)
    for (const [pool, rows] of usedIn(placed)) {
      const there = union.get(pool) ?? new Set<number>();
      union.set(pool, there);
      for (const row of rows) there.add(row);
    }
  return union;
}
