import type { Cell } from "./columns";

export type CsvOptions = {
  /** For a spreadsheet program: starts with a byte order mark, and cells it would run as a formula are made plain text. */
  forSpreadsheet: boolean;
};

/** Signs with which a spreadsheet starts a formula. A text that is a plain number is left as it is. */
const formula = /^[=+\-@\t\r]/;
const plainNumber = /^[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?$/i;

function field(cell: Cell, { forSpreadsheet }: CsvOptions): string {
  if (cell === null) return "";
  if (typeof cell === "number") return String(cell);
  const text = forSpreadsheet && formula.test(cell) && !plainNumber.test(cell) ? `'${cell}` : cell;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** One line of CSV by RFC 4180, with its CRLF. */
export const csvLine = (cells: readonly Cell[], options: CsvOptions): string =>
  `${cells.map((cell) => field(cell, options)).join(",")}\r\n`;

/** What a file begins with: the byte order mark where wanted, and the header. */
export const csvStart = (header: readonly string[], options: CsvOptions): string =>
  `${options.forSpreadsheet ? "\uFEFF" : ""}${csvLine(header, options)}`;
