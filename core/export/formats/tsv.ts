import type { Cell } from "../../values/data-column";
import type { ExportFormat } from "./format";

/** Tabs and line breaks have no place within a cell of this format: a tab becomes a blank, a line break ↵. */
const field = (cell: Cell): string =>
  cell === null
    ? ""
    : typeof cell === "number"
      ? String(cell)
      : cell.replaceAll("\t", " ").replace(/\r\n|[\r\n\u2028\u2029]/g, "↵");

const lines = (rows: readonly (readonly Cell[])[]): string =>
  rows.map((cells) => `${cells.map(field).join("\t")}\n`).join("");

/** Columns separated by tabs, as `text/tab-separated-values` is registered: no quotes, one line a row. */
export const tsv: ExportFormat = {
  says: "separated by tabs",
  written: "UTF-8, separated by tabs without quotes; a tab within a cell is written as a blank, a line break as ↵",
  extension: "tsv",
  mime: "text/tab-separated-values; charset=utf-8",
  open: (columns) => ({
    start: () => lines([columns.map(({ name }) => name)]),
    rows: lines,
    end: () => "",
  }),
};
