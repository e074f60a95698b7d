import type { Unpacked } from "../../tidy/packed";
import type { Cell, DataColumn } from "../../values/data-column";

/** A piece of a file, as it is written: text is UTF-8. */
export type Piece = string | Uint8Array;
/** Writes one table, a piece at a time, so that a file of any length needs little memory. */
export type TableWriter = {
  start: () => Piece;
  rows: (rows: readonly (readonly Cell[])[]) => Piece;
  /** The same rows given as columns, from one row to another (not included), where a format writes these faster. */
  columns?: (columns: readonly (Unpacked | null)[], from: number, to: number) => Piece;
  end: () => Piece;
};
/** What a writer is told of the columns. */
export type WrittenColumn = Omit<DataColumn<never>, "read">;

/**
 * What was found in a table before it is written: its rows, and in each column how many texts, the bytes of the longest cell, and
 * whether every number is a whole one of 32 bits.
 */
export type Measured = { rows: number; columns: readonly { texts: number; bytes: number; isWhole: boolean }[] };

/** A file format for tables. */
export type ExportFormat = {
  /** Whom it is for, as Export says it after “All data,”. */
  says: string;
  /** How its files are written, as the codebook says it. */
  written: string;
  extension: string;
  mime: string;
  /** Whether its files begin with what only the whole table tells: then it is gone through twice. */
  isMeasured?: true;
  open: (columns: readonly WrittenColumn[], measured?: Measured) => TableWriter;
};
