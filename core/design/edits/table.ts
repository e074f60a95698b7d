import { original, type Draft } from "immer";
import { cellAsText, cellFromText } from "../cells";
import { sourcesOf, type Column, type ColumnType, type Follows, type Row } from "../../values/table";
import type { Id, Scalar } from "../../values/ref";
import { inBlock } from "./block";
import { assign, type Edit } from "./edit";

export type CellChange = { row: Id; column: Id; value: Scalar | null };

/**
 * Finds rows of a draft by their ids without looking at each through the draft, which among thousands would cost more
 * than the edit: their indices come from the rows as they were, and hold as long as no row was added or removed.
 */
function finder(rows: Draft<Row[]>): (id: Id) => Draft<Row> | undefined {
  const before = original(rows);
  const positions = new Map(before?.map(({ id }, index) => [id, index]));
  return (id) => {
    const position = positions.get(id);
    const found = position === undefined ? undefined : rows[position];
    return found?.id === id ? found : rows.find((row) => row.id === id);
  };
}

export const setCells = (block: Id, changes: CellChange[]): Edit =>
  inBlock(block, ({ table }) => {
    const rowOf = finder(table.rows);
    for (const { row, column, value } of changes) {
      const found = rowOf(row);
      if (found) found.cells[column] = value;
    }
  });

export const setCopies = (block: Id, changes: { row: Id; copies: number }[]): Edit =>
  inBlock(block, ({ table }) => {
    const rowOf = finder(table.rows);
    for (const { row, copies } of changes) {
      const found = rowOf(row);
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

/** What was filled from a column, or followed for each of its levels, is so no longer. */
function standAlone(columns: Draft<Column[]>, column: Id) {
  for (const other of columns)
    if (sourcesOf(other).includes(column)) {
      delete other.cases;
      delete other.letters;
    } else if (other.follows?.each === column) delete other.follows.each;
}

/** Lets a column follow the answers, or stand in the table again (undefined); such a one holds numbers, its cells are empty, and no other is filled from it. */
export const setFollows = (block: Id, column: Id, follows: Follows | undefined): Edit =>
  inBlock(block, ({ table }) => {
    const found = table.columns.find(({ id }) => id === column);
    if (!found) return;
    if (!follows) return assign(found, { follows });
    if (!found.follows) for (const row of table.rows) row.cells[column] = null;
    assign(found, { follows, type: "number", factor: false, cases: undefined, letters: undefined });
    standAlone(table.columns, column);
  });

/** Removes a column and its cells; columns filled from it keep their names and become empty ones to type in. */
export const removeColumn = (block: Id, column: Id): Edit =>
  inBlock(block, ({ table }) => {
    table.columns = table.columns.filter(({ id }) => id !== column);
    standAlone(table.columns, column);
    for (const row of table.rows) delete row.cells[column];
  });

/** Moves a column to another index, counted from 0. */
export const moveColumn = (block: Id, column: Id, to: number): Edit =>
  inBlock(block, ({ table }) => {
    const at = table.columns.findIndex(({ id }) => id === column);
    const [moved] = at < 0 ? [] : table.columns.splice(at, 1);
    if (moved) table.columns.splice(Math.max(0, Math.min(to, table.columns.length)), 0, moved);
  });

/** Puts rows into the order of a column's values: numbers by size before texts by the alphabet, empty cells last. Equal rows keep their order. */
export const sortRows = (block: Id, column: Id, direction: "up" | "down"): Edit =>
  inBlock(block, ({ table }) => {
    const sign = direction === "up" ? 1 : -1;
    const compared = (a: Scalar | null, b: Scalar | null): number => {
      if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
      if (typeof a === "number" && typeof b === "number") return sign * (a - b);
      if (typeof a === "number" || typeof b === "number") return sign * (typeof a === "number" ? -1 : 1);
      return sign * String(a).localeCompare(String(b), "en", { numeric: true });
    };
    table.rows = [...table.rows].sort((a, b) => compared(a.cells[column] ?? null, b.cells[column] ?? null));
  });

export const setNote = (block: Id, row: Id, note: string): Edit =>
  inBlock(block, ({ table }) => {
    const found = finder(table.rows)(row);
    if (found) assign(found, { note: note.trim() === "" ? undefined : note });
  });

/** Adds columns and rows as one, as crossing and reading from files make them. With `anew`, the rows there go. */
export const extendTable = (block: Id, columns: Column[], rows: Row[], anew = false): Edit =>
  inBlock(block, ({ table }) => {
    table.columns.push(...columns);
    if (anew) table.rows = rows;
    else table.rows.push(...rows);
  });

export type Search = { find: string; matchCase: boolean; wholeCell: boolean };

/** Whether a cell's text is found, and what it becomes with every occurrence replaced. */
export function replacedText(text: string, { find, matchCase, wholeCell }: Search, replacement: string): string | null {
  if (find === "") return null;
  const [a, b] = matchCase ? [text, find] : [text.toLowerCase(), find.toLowerCase()];
  if (wholeCell) return a === b ? replacement : null;
  if (!a.includes(b)) return null;
  const pattern = new RegExp(find.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"), matchCase ? "gu" : "giu");
  return text.replace(pattern, () => replacement);
}
