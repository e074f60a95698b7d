import { csv } from "./csv";
import type { ExportFormat } from "./format";
import { json, jsonl } from "./json";
import { parquet } from "./parquet";
import { sav } from "./sav";
import { spreadsheet } from "./spreadsheet";
import { tsv } from "./tsv";
import { xlsx } from "./xlsx";

/** The export formats, the default first. */
export const exportFormats = { csv, spreadsheet, tsv, json, jsonl, parquet, sav, xlsx } satisfies Record<
  string,
  ExportFormat
>;

export type FormatName = keyof typeof exportFormats;
export const formatNames = Object.keys(exportFormats) as FormatName[];
/** The format of this name; the usual one for any other. */
export const formatCalled = (name: string | null): ExportFormat =>
  exportFormats[formatNames.find((each) => each === name) ?? "csv"];
