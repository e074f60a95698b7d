import { isFilled, type Row, cellValue } from "~/core/values/table";
import { cellAsText, cellFromText } from "~/core/design/cells";
import type { Edit } from "~/core/design/edits/edit";
import { addRows, removeRows, setCells, setCopies, setNote, type CellChange } from "~/core/design/edits/table";
import type { TableHolder } from "~/core/values/pool";
import type { Id } from "~/core/values/ref";
import type { StudyDocument } from "~/core/design/document";

/** A row as the grid edits it: every cell as text, by column id, the copies and the note. */
export type Line = { id: Id; copies: string; cells: Record<Id, string>; note: string; isShown?: boolean };

const asLine = (document: StudyDocument, holder: TableHolder, row: Row, group: Id): Line => ({
  id: row.id,
  copies: String(row.copies),
  note: row.note ?? "",
  cells: Object.fromEntries(
    holder.table.columns.map((column) => [
      column.id,
      cellAsText(document, column, cellValue(document, row, column, group)),
    ]),
  ),
});

/** Lines of a table that are made anew only for rows that changed, so that one keystroke among thousands costs one line. */
export function lineMaker(): (document: StudyDocument, holder: TableHolder, group: Id) => Line[] {
  let known = new WeakMap<Row, Line>();
  let made: unknown[] = [];
  return (document, holder, group) => {
    const by = [holder.table.columns, document.media, document.groupValues, group];
    if (by.some((each, index) => each !== made[index])) known = new WeakMap();
    made = by;
    return holder.table.rows.map((row) => {
      const line = known.get(row) ?? asLine(document, holder, row, group);
      known.set(row, line);
      return line;
    });
  };
}

/** The edits that lead from the lines before to those after a change in the grid: cells, copies, notes, rows in and out. */
export function changesBetween(document: StudyDocument, holder: TableHolder, before: Line[], after: Line[]): Edit[] {
  const old = new Map(before.map((line) => [line.id, line]));
  const kept = new Set(after.map(({ id }) => id));
  const edits: Edit[] = [];
  const gone = before.filter(({ id }) => !kept.has(id)).map(({ id }) => id);
  if (gone.length > 0) edits.push(removeRows(holder.id, gone));
  const cells: CellChange[] = [];
  const copies: { row: Id; copies: number }[] = [];
  after.forEach((line, index) => {
    const was = old.get(line.id);
    if (line === was) return;
    if (!was) edits.push(addRows(holder.id, [{ id: line.id, copies: copiesFrom(line.copies) ?? 1, cells: {} }], index));
    for (const column of holder.table.columns) {
      if (isFilled(column)) continue;
      const text = line.cells[column.id] ?? "";
      if (text !== (was?.cells[column.id] ?? ""))
        cells.push({ row: line.id, column: column.id, value: cellFromText(document, column, text) });
    }
    const count = copiesFrom(line.copies);
    if (was && line.copies !== was.copies && count !== null) copies.push({ row: line.id, copies: count });
    if (line.note !== (was?.note ?? "")) edits.push(setNote(holder.id, line.id, line.note));
  });
  if (cells.length > 0) edits.push(setCells(holder.id, cells));
  if (copies.length > 0) edits.push(setCopies(holder.id, copies));
  return edits;
}

const copiesFrom = (text: string): number | null => (/^\d{1,4}$/.test(text.trim()) ? Number(text.trim()) : null);
