import type { MeasureColumn, Recipe, RecipeColumn } from "../../core/export/recipes/recipe";
import { valuesOf } from "../../core/stats/measures";
import { together, type People, type Sums } from "../../core/stats/sums";
import { cellAt, type Column } from "../../core/tidy/column";
import type { Cell } from "../../core/values/data-column";
import { comparableColumns } from "../results/comparable";
import { cellOf, cellsBy, summedBy } from "../results/measured";
import { personOf } from "../tidy/left-out";
import type { TidyData } from "../tidy/tidy-data";
import type { DataReader, Sitting } from "./reader";
import type { Batch } from "./written";

/** The rows of a recipe: how many, and a batch at a time from their beginning. */
export type Made = { rows: number; batches: () => AsyncGenerator<Batch> };

/** So many rows go together. */
export const rowsTogether = 5000;

/** Cells of sessions, by the session. */
export async function ofSessions(data: TidyData, columns: readonly RecipeColumn[]): Promise<Map<RecipeColumn, Column>> {
  const found = new Map<RecipeColumn, Column>();
  for (const column of columns)
    if (column.is === "column" && column.of === "session")
      found.set(column, await data.column("sessions", column.column));
  return found;
}

/** A row each session, person, or person in a condition. */
type PersonRow = {
  /** Its first session, from which the columns of sessions come, by its place. */
  first: number;
  levels: string[];
  /** What it did, by what was asked of the trials. */
  cells: Map<MeasureColumn, Sums | null>;
};

/** Rows of sessions and persons, with numbers of their trials. */
export async function ofPersons(data: TidyData, reader: DataReader, recipe: Recipe): Promise<Made> {
  const { columns } = recipe;
  const keyOf = (sitting: Sitting) => (recipe.rows === "session" ? sitting.row.id : personOf(sitting));
  const rows = await personRows(data, reader, recipe, keyOf);
  const asked = columns.filter((column) => column.is === "measure");
  /** What each row has by a measure; balanced scores are told by what all rows have in all of these columns. */
  const values = new Map<MeasureColumn, (number | null)[]>();
  for (const { measure } of asked) {
    const same = asked.filter((column) => column.measure === measure);
    if (same.some((column) => values.has(column))) continue;
    const people: People = new Map(
      rows.map(({ cells }, row) => [
        String(row),
        new Map(
          same.flatMap((column, at) => {
            const sums = cells.get(column);
            return sums ? [[String(at), sums] as const] : [];
          }),
        ),
      ]),
    );
    const found = valuesOf(people, measure);
    for (const [at, column] of same.entries())
      values.set(
        column,
        rows.map((_, row) => found.get(String(row))?.get(String(at)) ?? null),
      );
  }
  const ofSession = await ofSessions(data, columns);
  const cellOfRow = (row: PersonRow, at: number, column: RecipeColumn): Cell => {
    if (column.is === "measure") return values.get(column)?.[at] ?? null;
    if (column.is === "column") {
      const session = ofSession.get(column);
      return session ? cellAt(session, row.first) : (row.levels[recipe.by.indexOf(column.column)] ?? null);
    }
    const [of, less] = [column.of, column.less].map((name) => {
      const other = columns.find((each) => each.name === name && each !== column);
      return other ? cellOfRow(row, at, other) : null;
    });
    return typeof of === "number" && typeof less === "number" ? of - less : null;
  };
  const batches = async function* (): AsyncGenerator<Batch> {
    for (let from = 0; from < rows.length; from += rowsTogether)
      yield await Promise.resolve(
        rows
          .slice(from, from + rowsTogether)
          .map((row, index) => columns.map((column) => cellOfRow(row, from + index, column))),
      );
  };
  return { rows: rows.length, batches };
}

/** Who is in, with what they did: in the order of sessions, and of conditions as the design has them. */
async function personRows(
  data: TidyData,
  reader: DataReader,
  { rows: kind, by, columns, trials }: Recipe,
  keyOf: (sitting: Sitting) => string,
): Promise<PersonRow[]> {
  const comparable = new Map(comparableColumns(reader).map((column) => [column.name, column]));
  const making = kind === "person-condition" ? by.filter((name) => comparable.has(name)) : [];
  const firsts = new Map<string, number>();
  const keys = new Map<string, string>();
  for (const [at, sitting] of data.sittings.entries()) {
    const key = keyOf(sitting);
    keys.set(sitting.facts.session, key);
    if (!firsts.has(key)) firsts.set(key, at);
  }
  const asked = columns.filter((column) => column.is === "measure");
  // Trials are gone through once for each sort of numbers that are asked for.
  const sorts = new Map<string, MeasureColumn[]>();
  for (const column of asked) {
    const sort = JSON.stringify([column.signal, column.measure === "column" ? column.numbers : null]);
    sorts.set(sort, [...(sorts.get(sort) ?? []), column]);
  }
  const whole = trials === "kept" ? data : data.with(new Map());
  /** What everybody did, by the columns that conditions and measures ask about. */
  const summed = async (names: string[], like?: MeasureColumn) => {
    const cells = await cellsBy(
      whole,
      names.flatMap((name) => comparable.get(name) ?? []),
    );
    const numbers = like?.measure === "column" ? like.numbers : null;
    const found = await summedBy(whole, reader, { signal: like?.signal ?? null, column: numbers }, cells.cellAtRow);
    const people = new Map<string, { levels: string[]; sums: Sums }[]>();
    for (const [session, own] of found) {
      const key = keys.get(session) ?? session;
      const before = people.get(key) ?? [];
      people.set(key, [...before, ...[...own].map(([cell, sums]) => ({ levels: cell.split("\u001f"), sums }))]);
    }
    return people;
  };
  const inDesign = making.map((name) => [...(comparable.get(name)?.levels() ?? [])]);
  const order = (levels: string[]) => levels.map((level, at) => inDesign[at]?.indexOf(level) ?? -1);
  const made = new Map<string, PersonRow>();
  if (kind === "person-condition") {
    const people = await summed(making);
    for (const [key, first] of firsts) {
      const conditions = new Map((people.get(key) ?? []).map(({ levels }) => [cellOf(levels), levels]));
      for (const levels of [...conditions.values()].sort((a, b) => inOrder(order(a), order(b))))
        made.set(cellOf([key, ...levels]), {
          first,
          levels: by.map((name) => levels[making.indexOf(name)] ?? ""),
          cells: new Map(),
        });
    }
  } else for (const [key, first] of firsts) made.set(key, { first, levels: [], cells: new Map() });
  for (const same of sorts.values()) {
    const names = [...new Set([...making, ...same.flatMap(({ where }) => where.map(({ column }) => column))])];
    const people = await summed(names, same[0]);
    for (const key of firsts.keys())
      for (const column of same) {
        const conditions = new Map<string, Sums[]>();
        for (const { levels, sums } of people.get(key) ?? []) {
          if (!column.where.every((asks) => levels[names.indexOf(asks.column)] === asks.level)) continue;
          const condition = cellOf([key, ...making.map((name) => levels[names.indexOf(name)] ?? "")]);
          conditions.set(condition, [...(conditions.get(condition) ?? []), sums]);
        }
        for (const [condition, sums] of conditions) made.get(condition)?.cells.set(column, together(sums));
      }
  }
  return [...made.values()];
}

const inOrder = (a: number[], b: number[]) => {
  const at = a.findIndex((place, index) => place !== b[index]);
  return (a[at] ?? 0) - (b[at] ?? 0);
};
