import type { Cell } from "../../values/data-column";
import type { Unpacked } from "../../tidy/packed";
import type { ExportFormat } from "./format";

export type CsvOptions = {
  /**
   * Starts with a byte order mark, makes plain text of cells that a spreadsheet program would run as a formula, and keeps
   * each row on one line.
   */
  forSpreadsheet: boolean;
  /** Semicolons between cells, as programs read them that take a comma for the decimal sign. */
  bySemicolon?: boolean;
};

/** Characters with which a spreadsheet formula starts. A plain number is left as it is. */
const formula = /^[=+\-@\t\r]/;
const plainNumber = /^[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?$/i;

/** Line breaks within a cell are written ↵, so that every row is one line. */
const inOneLine = (text: string) => text.replace(/\r\n|[\r\n\u2028\u2029]/g, "↵");

function field(cell: Cell, { forSpreadsheet, bySemicolon = false }: CsvOptions): string {
  if (cell === null) return "";
  if (typeof cell === "number") return String(cell);
  const text = forSpreadsheet ? inOneLine(formula.test(cell) && !plainNumber.test(cell) ? `'${cell}` : cell) : cell;
  return (bySemicolon ? /[";\r\n]/ : /[",\r\n]/).test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

const separator = ({ bySemicolon = false }: CsvOptions) => (bySemicolon ? ";" : ",");

/** Rows as CSV by RFC 4180, each line with its CRLF. */
export const csvText = (rows: readonly (readonly Cell[])[], options: CsvOptions = { forSpreadsheet: false }): string =>
  rows.map((cells) => `${cells.map((cell) => field(cell, options)).join(separator(options))}\r\n`).join("");

/** The same of columns: what is different in a column is written once. */
function csvOfColumns(columns: readonly (Unpacked | null)[], from: number, to: number, options: CsvOptions): string {
  /** What stands before the first column that changes, between two that do, and after the last. */
  const between = [""];
  const changing: ((row: number) => string)[] = [];
  const constant = (text: string) => (between[between.length - 1] += text);
  for (const [at, column] of columns.entries()) {
    if (at > 0) constant(separator(options));
    if (column === null) continue;
    if ("one" in column) {
      constant(field(column.one, options));
      continue;
    }
    if ("numbers" in column) {
      const { numbers } = column;
      changing.push((row) => {
        const number = numbers[row] as number;
        return Number.isNaN(number) ? "" : String(number);
      });
    } else {
      const { codes } = column;
      const texts = ["", ...column.words.map((word) => field(word, options))];
      changing.push((row) => texts[codes[row] as number] as string);
    }
    between.push("");
  }
  constant("\r\n");
  let text = "";
  for (let row = from; row < to; row++) {
    text += between[0];
    for (let at = 0; at < changing.length; at++)
      text += (changing[at] as (row: number) => string)(row) + (between[at + 1] as string);
  }
  return text;
}

/** CSV in one of its two variants. */
export const csvFormat = (says: string, options: CsvOptions): ExportFormat => ({
  says,
  written: `UTF-8, comma-separated, by RFC 4180${options.forSpreadsheet ? "; line breaks within a cell are written ↵" : ""}`,
  extension: "csv",
  mime: "text/csv; charset=utf-8",
  open: (columns) => ({
    start: () => `${options.forSpreadsheet ? "\uFEFF" : ""}${csvText([columns.map(({ name }) => name)], options)}`,
    rows: (rows) => csvText(rows, options),
    columns: (columns, from, to) => csvOfColumns(columns, from, to, options),
    end: () => "",
  }),
});

export const csv = csvFormat("for a statistics program", { forSpreadsheet: false });
