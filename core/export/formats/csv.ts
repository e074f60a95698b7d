import type { Cell } from "../../values/data-column";
import type { ExportFormat } from "./format";

export type CsvOptions = {
  /** Starts with a byte order mark, and makes plain text of cells that a spreadsheet program would run as a formula. */
  forSpreadsheet: boolean;
};

/** Characters with which a spreadsheet formula starts. A plain number is left as it is. */
const formula = /^[=+\-@\t\r]/;
const plainNumber = /^[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?$/i;

function field(cell: Cell, { forSpreadsheet }: CsvOptions): string {
  if (cell === null) return "";
  if (typeof cell === "number") return String(cell);
  const text = forSpreadsheet && formula.test(cell) && !plainNumber.test(cell) ? `'${cell}` : cell;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** Rows as CSV by RFC 4180, each line with its CRLF. */
export const csvText = (rows: readonly (readonly Cell[])[], options: CsvOptions = { forSpreadsheet: false }): string =>
  rows.map((cells) => `${cells.map((cell) => field(cell, options)).join(",")}\r\n`).join("");

/** CSV in one of its two variants. */
export const csvFormat = (says: string, options: CsvOptions): ExportFormat => ({
  says,
  written: "UTF-8, comma-separated, by RFC 4180",
  extension: "csv",
  mime: "text/csv; charset=utf-8",
  open: (columns) => ({
    start: () => `${options.forSpreadsheet ? "\uFEFF" : ""}${csvText([columns.map(({ name }) => name)], options)}`,
    rows: (rows) => csvText(rows, options),
    end: () => "",
  }),
});

export const csv = csvFormat("for a statistics program", { forSpreadsheet: false });
