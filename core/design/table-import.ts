import type { NewId, Scalar } from "../values/ref";
import { cellAsText, cellFromText, mediaOfColumn } from "./cells";
import { inTable } from "./edits/block";
import type { Edit } from "./edits/edit";
import { mediaKind } from "../media/types";
import { freeName, nameProblem } from "../values/names";
import { namesInReach } from "./names-in-reach";
import type { TableHolder } from "../values/pool";
import { isFilled, type Column, type ColumnType, type Row } from "../values/table";
import type { StudyDocument } from "./document";

export type ImportMode = "replace" | "append";
/** What importing a sheet does to the table, shown before it is accepted. */
export type TableImport = {
  edit: Edit;
  rowsAdded: number;
  rowsRemoved: number;
  /** Cells of columns that were there whose value becomes another. */
  cellsChanged: number;
  newColumns: { name: string; type: ColumnType }[];
  /** Headers that were not valid names, and what they became. */
  renamed: { from: string; to: string }[];
  /** Columns of the table that the sheet does not have; their cells stay where rows stay. */
  untouched: string[];
};

const numeric = /^[-+]?(\d+([.,]\d+)?|[.,]\d+)(e[-+]?\d+)?$/i;
const yesNo = /^(yes|no|true|false)$/i;

/** What a column of texts holds, by all its texts that are not empty. */
export function guessedType(document: StudyDocument, texts: readonly string[]): ColumnType {
  const filled = texts.map((text) => text.trim()).filter(Boolean);
  if (filled.length === 0) return "text";
  if (filled.every((text) => numeric.test(text))) return "number";
  if (filled.every((text) => yesNo.test(text))) return "yes-no";
  if (filled.every((text) => /^#([0-9a-f]{3}|[0-9a-f]{6})$/i.test(text))) return "color";
  const kinds = filled.map((text) => document.media.find(({ name }) => name === text)?.mime);
  for (const [type, kind] of Object.entries(mediaOfColumn))
    if (kinds.every((mime) => mime !== undefined && mediaKind(mime) === kind)) return type as ColumnType;
  return "text";
}

/** A text without the underscores it begins and ends with. */
function withoutUnderscores(text: string): string {
  let [from, to] = [0, text.length];
  while (text[from] === "_") from++;
  while (to > from && text[to - 1] === "_") to--;
  return text.slice(from, to);
}

/** The nearest valid name for a header: signs become underscores, a leading digit gets a letter before it. */
export function nameFromHeader(header: string, taken: readonly string[]): string {
  const plain = withoutUnderscores(
    header
      .trim()
      .normalize("NFC")
      .replace(/[^\p{L}\p{N}_]+/gu, "_"),
  )
    .replace(/^(\p{N})/u, "c$1")
    .slice(0, 36);
  const name = nameProblem(plain, []) === null ? plain : plain === "" ? "column" : `my_${plain}`;
  return freeName(name, taken);
}

/**
 * Reads a sheet into the table: its first row names columns (a column `copies` sets copies), each further row is one of
 * the table. `replace` puts its rows in place of those there, keeping what the sheet does not have row by row; `append`
 * adds them at the end. Values that do not fit their column are kept as they are and marked in the table.
 */
export function tableImport(
  document: StudyDocument,
  block: TableHolder,
  sheet: readonly (readonly string[])[],
  mode: ImportMode,
  newId: NewId,
): TableImport {
  const [header = [], ...lines] = sheet;
  const body = lines.filter((line) => line.some((text) => text.trim() !== ""));
  const taken = namesInReach(document, block, null);
  const renamed: TableImport["renamed"] = [];
  const added: Column[] = [];
  const columns = header.map((title, index): Column | "copies" | null => {
    const trimmed = title.trim();
    if (trimmed === "") return null;
    if (trimmed.toLowerCase() === "copies") return "copies";
    const there = block.table.columns.find(({ name }) => name.toLowerCase() === trimmed.toLowerCase());
    if (there) return isFilled(there) ? null : there;
    const name = nameFromHeader(trimmed, taken);
    taken.push(name);
    if (name !== trimmed) renamed.push({ from: trimmed, to: name });
    const texts = body.map((line) => line[index] ?? "");
    const column: Column = { id: newId("column"), name, type: guessedType(document, texts), factor: false };
    added.push(column);
    return column;
  });
  const old = mode === "replace" ? block.table.rows : [];
  let cellsChanged = 0;
  const rows = body.map((line, index): Row => {
    const before = old[index];
    const cells: Record<string, Scalar | null> = { ...before?.cells };
    let copies = before?.copies ?? 1;
    columns.forEach((column, position) => {
      const text = line[position] ?? "";
      if (column === "copies") copies = /^\d{1,4}$/.test(text.trim()) ? Number(text.trim()) : copies;
      else if (column) {
        const value = cellFromText(document, column, text);
        if (before && !added.includes(column) && (before.cells[column.id] ?? null) !== value) cellsChanged++;
        if (value === null) delete cells[column.id];
        else cells[column.id] = value;
      }
    });
    return { ...before, id: before?.id ?? newId("row"), copies, cells };
  });
  return {
    edit: inTable(block.id, ({ table }) => {
      table.columns.push(...added);
      if (mode === "replace") table.rows = rows;
      else table.rows.push(...rows);
    }),
    rowsAdded: Math.max(0, rows.length - old.length),
    rowsRemoved: mode === "replace" ? Math.max(0, block.table.rows.length - rows.length) : 0,
    cellsChanged,
    newColumns: added.map(({ name, type }) => ({ name, type })),
    renamed,
    untouched: block.table.columns
      .filter((column) => !columns.includes(column) && !isFilled(column))
      .map(({ name }) => name),
  };
}

/** The table as a sheet: a header and a line a row, cells as people type them. */
export const tableAsSheet = (document: StudyDocument, { table }: TableHolder): string[][] => [
  ["copies", ...table.columns.map(({ name }) => name)],
  ...table.rows.map((row) => [
    String(row.copies),
    ...table.columns.map((column) => cellAsText(document, column, row.cells[column.id] ?? null)),
  ]),
];
