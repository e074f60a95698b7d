export type Cell = string | number | null;

/** A column of the exported data with its lines of the codebook; `read` gives its cell for one row's source. */
export type DataColumn<Source> = {
  name: string;
  meaning: string;
  unit: string;
  type: "text" | "number" | "whole number" | "yes/no";
  /** Values it can have, separated by commas, where they can be listed. */
  values: string;
  /** What participants wrote in their own words or codes: it can tell who they are. */
  isOwnWords?: boolean;
  read: (source: Source) => Cell;
};

export const dataColumn = <Source>(
  name: string,
  type: DataColumn<Source>["type"],
  meaning: string,
  read: DataColumn<Source>["read"],
  { unit = "", values = "", isOwnWords = false }: { unit?: string; values?: string; isOwnWords?: boolean } = {},
): DataColumn<Source> => ({ name, meaning, unit, type, values, ...(isOwnWords ? { isOwnWords } : {}), read });

/** Milliseconds to a tenth, as most times are exported. */
export const tenth = (ms: number): number => Math.round(ms * 10) / 10;

/**
 * A moment as exported, made from ISO 8601: `2026-11-25 18:49:55.123` in UTC, which statistics programs, databases and
 * spreadsheets read as a time.
 */
export const atClock = (iso: string | null): string | null => iso && iso.replace("T", " ").replace(/Z$/, "");
export const wallClock = { unit: "UTC, year-month-day hours:minutes:seconds" };
export const yesOrNo = (value: boolean): string => (value ? "yes" : "no");
