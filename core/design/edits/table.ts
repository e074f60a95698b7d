import { cellAsText, cellFromText } from "../cells";
import type { Column, ColumnType, Id, Row, Scalar } from "../types";
import { inBlock } from "./block";
import { assign, type Edit } from "./edit";

export type CellChange = { row: Id; column: Id; value: Scalar | null };

export const setCells = (block: Id, changes: CellChange[]): Edit =>
  inBlock(block, ({ table }) => {
    const rows = new Map(table.rows.map((row) => [row.id, row]));
    for (const { row, column, value } of changes) {
      const found = rows.get(row);
      if (found) found.cells[column] = value;
    }
  });

export const setCopies = (block: Id, changes: { row: Id; copies: number }[]): Edit =>
  inBlock(block, ({ table }) => {
    for (const { row, copies } of changes) {
      const found = table.rows.find(({ id }) => id === row);
      if (found) found.copies = copies;
    }
  });

/** Puts rows into the table so that the first of them stands at `at`, counted from 0. */
export const addRows = (block: Id, rows: Row[], at: number): Edit =>
  inBlock(block, ({ table }) => void table.rows.splice(at, 0, ...rows));

export const removeRows = (block: Id, rows: Id[]): Edit =>
  inBlock(block, ({ table }) => {
    table.rows = table.rows.filter(({ id }) => !rows.includes(id));
  });

export const addColumn = (block: Id, column: Column): Edit =>
  inBlock(block, ({ table }) => void table.columns.push(column));

export const setColumn = (block: Id, column: Id, change: Partial<Omit<Column, "id">>): Edit =>
  inBlock(block, ({ table }) => {
    const found = table.columns.find(({ id }) => id === column);
    if (found) assign(found, change);
  });

/** Changes what a column holds; its cells are read anew as that type, and stay as they are where they do not fit. */
export const setColumnType =
  (block: Id, column: Id, type: ColumnType): Edit =>
  (draft) =>
    inBlock(block, ({ table }) => {
      const found = table.columns.find(({ id }) => id === column);
      if (!found) return;
      for (const row of table.rows)
        row.cells[column] = cellFromText(
          draft,
          { ...found, type },
          cellAsText(draft, found, row.cells[column] ?? null),
        );
      found.type = type;
    })(draft);

/** Removes a column and its cells; columns filled from it keep their names and become empty ones to type in. */
export const removeColumn = (block: Id, column: Id): Edit =>
  inBlock(block, ({ table }) => {
    table.columns = table.columns.filter(({ id }) => id !== column);
    for (const other of table.columns) if (other.cases?.by.includes(column)) delete other.cases;
    for (const row of table.rows) delete row.cells[column];
  });
