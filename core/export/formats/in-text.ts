import type { Cell } from "../../values/data-column";
import { csvFormat } from "./csv";
import type { ExportFormat } from "./format";
import { exportFormats, type FormatName } from "./registry";

/** How numbers and missing values are written in plain text. */
export type InText = { decimal: "." | ","; missing: string };

const plain: Partial<Record<FormatName, (bySemicolon: boolean) => ExportFormat>> = {
  csv: (bySemicolon) => csvFormat(exportFormats.csv.says, { forSpreadsheet: false, bySemicolon }),
  spreadsheet: (bySemicolon) => csvFormat(exportFormats.spreadsheet.says, { forSpreadsheet: true, bySemicolon }),
  tsv: () => exportFormats.tsv,
};

/**
 * A format with another decimal sign, and a sign for missing values. Where the decimal sign is a comma, cells of CSV are separated
 * by semicolons. Formats that have numbers and missing values of their own stay as they are.
 */
export function writtenAs(name: FormatName, { decimal, missing }: InText): ExportFormat {
  const made = plain[name]?.(decimal === ",");
  if (!made || (decimal === "." && missing === "")) return exportFormats[name];
  const cellOf = (cell: Cell): Cell => {
    if (cell === null) return missing === "" ? null : missing;
    return typeof cell === "number" && decimal === "," ? String(cell).replace(".", ",") : cell;
  };
  return {
    ...made,
    open: (columns) => {
      const writer = made.open(columns);
      return {
        start: () => writer.start(),
        rows: (rows) => writer.rows(rows.map((cells) => cells.map(cellOf))),
        end: () => writer.end(),
      };
    },
  };
}
