import { original, type Draft } from "immer";
import { cellAsText, cellFromText } from "../cells";
import { sourcesOf, type Column, type ColumnType, type Follows, type Row } from "../../values/table";
import { hasOwnRow, type Draws } from "../../values/draws";
import type { Pool } from "../../values/pool";
import type { Id, Scalar } from "../../values/ref";
import type { StudyDocument } from "../document";
import { inTable } from "./block";
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

export const setCells = (holder: Id, changes: CellChange[]): Edit =>
  inTable(holder, ({ table }) => {
    const rowOf = finder(table.rows);
    for (const { row, column, value } of changes) {
      const found = rowOf(row);
      if (found) found.cells[column] = value;
    }
  });

export const setCopies = (holder: Id, changes: { row: Id; copies: number }[]): Edit =>
  inTable(holder, ({ table }) => {
    const rowOf = finder(table.rows);
    for (const { row, copies } of changes) {
      const found = rowOf(row);
      if (found) found.copies = copies;
    }
  });

/** Puts rows into the table so that the first of them stands at `at`, counted from 0. */
export const addRows = (holder: Id, rows: Row[], at: number): Edit =>
  inTable(holder, ({ table }) => void table.rows.splice(at, 0, ...rows));

export const removeRows = (holder: Id, rows: Id[]): Edit =>
  inTable(holder, ({ table }) => {
    table.rows = table.rows.filter(({ id }) => !rows.includes(id));
  });

export const addColumn = (holder: Id, column: Column): Edit =>
  inTable(holder, ({ table }) => void table.columns.push(column));

export const setColumn = (holder: Id, column: Id, change: Partial<Omit<Column, "id">>): Edit =>
  inTable(holder, ({ table }) => {
    const found = table.columns.find(({ id }) => id === column);
    if (found) assign(found, change);
  });

/** Changes what a column holds; its cells are read anew as that type, and stay as they are where they do not fit. */
export const setColumnType =
  (holder: Id, column: Id, type: ColumnType): Edit =>
  (draft) =>
    inTable(holder, ({ table }) => {
      const found = table.columns.find(({ id }) => id === column);
      if (!found) return;
      for (const row of table.rows)
        row.cells[column] = cellFromText(
          draft,
          { ...found, type },
          cellAsText(draft, found, row.cells[column] ?? null),
        );
      found.type = type;
      holdAlike(draft, holder);
    })(draft);

/** Columns that draw from a pool hold what its columns hold. */
function holdAlike(draft: Draft<StudyDocument>, pool: Id): void {
  if (!draft.pools.some(({ id }) => id === pool)) return;
  for (const part of Object.values(draft.parts))
    for (const column of part.kind === "block" ? part.table.columns : []) {
      const holds = column.draws && typeOfDrawn(draft, part.kind === "block" ? part.table.columns : [], column.draws);
      if (holds) column.type = holds;
    }
}

/*
 * Edits of the table of a block or of a pool, by the id of that.
 */

/** What was filled from a column, drawn with it, or looked at its levels, is so no longer. */
function standAlone(columns: Draft<Column[]>, column: Id) {
  for (const other of columns)
    if (sourcesOf(other).includes(column)) {
      delete other.cases;
      delete other.letters;
    } else if (other.follows?.each === column) delete other.follows.each;
    else if (other.draws && "with" in other.draws) {
      if (other.draws.with === column) delete other.draws;
    } else if (other.draws) {
      const { balanced, before } = other.draws;
      if (balanced === column) delete other.draws.balanced;
      if (typeof before?.shown === "object" && before.shown.column === column) before.shown = true;
    }
}

/** Lets a column follow the answers, or stand in the table again (undefined); such a one holds numbers, its cells are empty, and no other is filled from it. */
export const setFollows = (holder: Id, column: Id, follows: Follows | undefined): Edit =>
  inTable(holder, ({ table }) => {
    const found = table.columns.find(({ id }) => id === column);
    if (!found) return;
    if (!follows) return assign(found, { follows });
    if (!found.follows) for (const row of table.rows) row.cells[column] = null;
    assign(found, { ...unfilled, follows, type: "number", factor: false });
    standAlone(table.columns, column);
  });

const unfilled = { cases: undefined, letters: undefined, follows: undefined, draws: undefined };

/**
 * Lets a column draw from a pool, or stand in the table again (undefined); its cells are empty then, it holds what the pool's
 * column holds, and no other is filled from it.
 */
export const setDraws =
  (holder: Id, column: Id, draws: Draws | undefined): Edit =>
  (draft) =>
    inTable(holder, ({ table }) => {
      const found = table.columns.find(({ id }) => id === column);
      if (!found) return;
      if (!draws) {
        assign(found, { draws });
        // What drew with it has nothing to draw with any more.
        return standAlone(table.columns, column);
      }
      if (!found.draws) {
        for (const row of table.rows) row.cells[column] = null;
        standAlone(table.columns, column);
      }
      assign(found, { ...unfilled, draws });
      const holds = typeOfDrawn(draft, table.columns, draws);
      if (holds) found.type = holds;
    })(draft);

/** What a column that draws holds; null where that is gone or not of a table. */
function typeOfDrawn(
  { pools, parts }: Pick<StudyDocument, "pools" | "parts">,
  columns: readonly Column[],
  draws: Draws,
): ColumnType | null {
  const drawer = hasOwnRow(draws) ? draws : columns.find(({ id }) => id === draws.with)?.draws;
  if (!hasOwnRow(drawer)) return null;
  const { takes } = draws;
  if (takes.is === "position") return "number";
  const block = takes.is === "earlier" && drawer.before ? parts[drawer.before.block] : undefined;
  const table = takes.is === "value" ? pools.find(({ id }) => id === drawer.pool)?.table : undefined;
  const from = block?.kind === "block" ? block.table : table;
  return from?.columns.find(({ id }) => id === takes.column)?.type ?? null;
}

export const addPool =
  (pool: Pool): Edit =>
  (draft) =>
    void draft.pools.push(pool);

export const renamePool =
  (id: Id, name: string): Edit =>
  (draft) => {
    const pool = draft.pools.find((each) => each.id === id);
    if (pool) pool.name = name;
  };

/** Removes a pool; columns that drew from it are left to be looked at, which preflight asks for. */
export const removePool =
  (id: Id): Edit =>
  (draft) => {
    draft.pools = draft.pools.filter((each) => each.id !== id);
  };

/** Removes a column and its cells; columns filled from it keep their names and become empty ones to type in. */
export const removeColumn = (holder: Id, column: Id): Edit =>
  inTable(holder, ({ table }) => {
    table.columns = table.columns.filter(({ id }) => id !== column);
    standAlone(table.columns, column);
    for (const row of table.rows) delete row.cells[column];
  });

/** Moves a column to another index, counted from 0. */
export const moveColumn = (holder: Id, column: Id, to: number): Edit =>
  inTable(holder, ({ table }) => {
    const at = table.columns.findIndex(({ id }) => id === column);
    const [moved] = at < 0 ? [] : table.columns.splice(at, 1);
    if (moved) table.columns.splice(Math.max(0, Math.min(to, table.columns.length)), 0, moved);
  });

/** Puts rows into the order of a column's values: numbers by size before texts by the alphabet, empty cells last. Equal rows keep their order. */
export const sortRows = (holder: Id, column: Id, direction: "up" | "down"): Edit =>
  inTable(holder, ({ table }) => {
    const sign = direction === "up" ? 1 : -1;
    const compared = (a: Scalar | null, b: Scalar | null): number => {
      if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
      if (typeof a === "number" && typeof b === "number") return sign * (a - b);
      if (typeof a === "number" || typeof b === "number") return sign * (typeof a === "number" ? -1 : 1);
      return sign * String(a).localeCompare(String(b), "en", { numeric: true });
    };
    table.rows = [...table.rows].sort((a, b) => compared(a.cells[column] ?? null, b.cells[column] ?? null));
  });

export const setNote = (holder: Id, row: Id, note: string): Edit =>
  inTable(holder, ({ table }) => {
    const found = finder(table.rows)(row);
    if (found) assign(found, { note: note.trim() === "" ? undefined : note });
  });

/** Adds columns and rows as one, as crossing and reading from files make them. With `anew`, the rows there go. */
export const extendTable = (holder: Id, columns: Column[], rows: Row[], anew = false): Edit =>
  inTable(holder, ({ table }) => {
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
