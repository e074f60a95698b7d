import { hasOwnRow, type OwnRow } from "../values/draws";
import type { Pool } from "../values/pool";
import type { Scalar } from "../values/ref";
import type { Column } from "../values/table";
import type { Block } from "./block";
import type { StudyDocument } from "./document";

/** The draw that gives a column its row: its own, or that of the column it draws with; null where it draws none. */
export function drawOf({ table }: Pick<Block, "table">, { draws }: Pick<Column, "draws">): OwnRow | null {
  if (!draws) return null;
  const found = hasOwnRow(draws) ? draws : table.columns.find(({ id }) => id === draws.with)?.draws;
  return hasOwnRow(found) ? found : null;
}

/** The pool a column draws from; null where it draws from none, or that is gone. */
export function poolOf(
  document: Pick<StudyDocument, "pools">,
  block: Pick<Block, "table">,
  column: Column,
): Pool | null {
  const draw = drawOf(block, column);
  return (draw && document.pools.find(({ id }) => id === draw.pool)) ?? null;
}

/** The values that can be drawn into a column, as they stand in the table they come from; none where that is a position. */
export function drawnValues(document: StudyDocument, block: Pick<Block, "table">, column: Column): (Scalar | null)[] {
  const takes = column.draws?.takes;
  if (!takes || takes.is === "position") return [];
  if (takes.is === "value")
    return (poolOf(document, block, column)?.table.rows ?? []).flatMap(({ copies, cells }) =>
      copies > 0 ? [cells[takes.column] ?? null] : [],
    );
  const before = document.parts[drawOf(block, column)?.before?.block ?? ""];
  return before?.kind === "block" ? before.table.rows.map(({ cells }) => cells[takes.column] ?? null) : [];
}
