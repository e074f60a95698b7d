import type { Cell } from "../../values/data-column";
import type { ExportFormat, WrittenColumn } from "./format";

/** JSON has no infinite numbers: they are missing. */
const valueOf = (cell: Cell): Cell => (typeof cell === "number" && !Number.isFinite(cell) ? null : cell);

const objectsOf = (columns: readonly WrittenColumn[]) => {
  const names = columns.map(({ name }) => JSON.stringify(name));
  return (cells: readonly Cell[]): string =>
    `{${names.map((name, at) => `${name}:${JSON.stringify(valueOf(cells[at] ?? null))}`).join(",")}}`;
};

/** One list of objects, each a row by the names of its columns; a missing value is null. */
export const json: ExportFormat = {
  says: "as JSON",
  written: "one list of objects in JSON, each a row; a missing value is null",
  extension: "json",
  mime: "application/json",
  open: (columns) => {
    const objectOf = objectsOf(columns);
    let isFirst = true;
    return {
      start: () => "[",
      rows: (rows) => {
        const text = rows.map((cells) => `\n${objectOf(cells)}`).join(",");
        const before = isFirst || rows.length === 0 ? "" : ",";
        if (rows.length > 0) isFirst = false;
        return before + text;
      },
      end: () => "\n]\n",
    };
  },
};

/** The same, each row on a line of its own without a list around them. */
export const jsonl: ExportFormat = {
  says: "as JSON, a line a row",
  written: "an object in JSON on each line, a row each; a missing value is null",
  extension: "jsonl",
  mime: "application/jsonl",
  open: (columns) => {
    const objectOf = objectsOf(columns);
    return {
      start: () => "",
      rows: (rows) => rows.map((cells) => `${objectOf(cells)}\n`).join(""),
      end: () => "",
    };
  },
};
