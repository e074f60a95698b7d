import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Id, Scalar } from "../values/ref";
import { rowValues } from "../values/table";
import type { Orderable } from "./block-order";

/** What decides the order of a block's trials for participants of a group. */
export function orderable(document: StudyDocument, block: Block, group: Id): Orderable {
  const values = new Map<Id, Record<Id, Scalar | null>>();
  return {
    order: block.order,
    rows: block.table.rows,
    valueOf: (row, column) => {
      const known = values.get(row.id) ?? rowValues(document, block.table, row, group);
      values.set(row.id, known);
      return known[column] ?? null;
    },
    nameOf: (column) => block.table.columns.find(({ id }) => id === column)?.name ?? "a column that is gone",
  };
}

/** What the draws of an attempt at a block are drawn for: a later one has streams of its own. */
export const streamOf = (block: Block, attempt: number): string =>
  attempt === 1 ? block.id : `${block.id} attempt ${attempt}`;
