import type { Cell, DataColumn } from "../../values/data-column";

/** The cells of one row. */
export const rowOf = <Source>(columns: readonly DataColumn<Source>[], source: Source): Cell[] =>
  columns.map(({ read }) => read(source));

/** Rows to show: the columns' names and the cells. */
export type ShownTable = { header: string[]; rows: Cell[][] };

export const shownTable = <Source>(columns: readonly DataColumn<Source>[], sources: readonly Source[]): ShownTable => ({
  header: columns.map(({ name }) => name),
  rows: sources.map((source) => rowOf(columns, source)),
});
