import { csv } from "./csv";
import type { ExportFormat } from "./format";
import { spreadsheet } from "./spreadsheet";

/** The export formats, the default first. */
export const exportFormats = { csv, spreadsheet } satisfies Record<string, ExportFormat>;

export type FormatName = keyof typeof exportFormats;
export const formatNames = Object.keys(exportFormats) as FormatName[];
/** The format of this name; the usual one for any other. */
export const formatCalled = (name: string | null): ExportFormat =>
  exportFormats[formatNames.find((each) => each === name) ?? "csv"];
