import { leftOutNames } from "../../core/exclusions/columns";
import type { WrittenColumn } from "../../core/export/formats/format";
import { columnInWords } from "../../core/export/recipes/in-words";
import { misfitOf, misfits, type Available } from "../../core/export/recipes/problems";
import {
  isOfPersons,
  isTableRow,
  rowColumns,
  tableRows,
  type Recipe,
  type RecipeColumn,
  type RowKind,
  type TableRow,
} from "../../core/export/recipes/recipe";
import type { TidyTableName } from "../../core/export/tidy-tables";
import { measures } from "../../core/stats/measures";
import { marksSought } from "../../core/tidy/chosen-rows";
import { cellAt } from "../../core/tidy/column";
import type { Cell } from "../../core/values/data-column";
import type { Store } from "../database/open";
import { exclusionsOf } from "../exclusions";
import { comparableColumns } from "../results/comparable";
import { numbersIn } from "../results/measured";
import type { Study } from "../studies";
import { withScores } from "../results/derived";
import { tableColumns } from "../results/table-columns";
import { isJudged, leftOutOf } from "../tidy/left-out";
import { openTidy, type TidyData } from "../tidy/tidy-data";
import { wavesOf } from "../waves";
import { DataReader, type Sitting } from "./reader";
import { ofPersons, ofSessions, rowsTogether, type Made } from "./recipe-persons";
import type { Batch } from "./written";

/** A recipe’s file before it is written. */
export type RecipeTable = Made & {
  columns: WrittenColumn[];
  /** What of the recipe does not fit the study. */
  misfits: string[];
  available: AvailableHere;
};
/** What a recipe can ask for here, in the order in which it is shown. */
export type AvailableHere = Available & { columns: TableColumns };
/** The columns of the tables whose rows a file can have. */
export type TableColumns = Record<TableRow, WrittenColumn[]>;

const tableOf: Record<TableRow, TidyTableName> = {
  trial: "trials",
  answer: "answers",
  event: "events",
  session: "sessions",
};
/** What is told of a column; how it is read stays here. */
const told = ({ name, meaning, unit, type, values, isOwnWords }: WrittenColumn): WrittenColumn => ({
  ...{ name, meaning, unit, type, values, ...(isOwnWords ? { isOwnWords } : {}) },
});

/** What recipes can ask for in a study. */
export async function availableIn(store: Store, reader: DataReader, rows: RowKind): Promise<AvailableHere> {
  const columns = Object.fromEntries(
    tableRows.map((row) => [row, tableColumns(tableOf[row], reader).map(told)]),
  ) as TableColumns;
  const names = (of: readonly { name: string }[]) => new Set(of.map(({ name }) => name));
  const waves = await wavesOf(store.db, reader.study.id);
  return {
    ...{ columns, row: names(rowColumns(columns, rows)), session: names(columns.session) },
    levels: new Map(comparableColumns(reader).map((column) => [column.name, new Set(column.levels())])),
    numbers: new Set(Object.values(numbersIn(reader)).flat()),
    waves: new Set(waves.map(({ plan }) => plan.name)),
    exclusions: new Set((await exclusionsOf(store.db, reader.study.id)).sets.map(({ name }) => name)),
  };
}

/** The table of a recipe, of the data as they stand at this moment; `done` lets them go. */
export async function openRecipe(
  store: Store,
  study: Study,
  recipe: Recipe,
): Promise<RecipeTable & { done: () => Promise<void> }> {
  const reader = await DataReader.open(store, study, { pilots: false });
  const { data, done } = await openTidy(store, reader);
  try {
    return { ...(await recipeTable(store, { reader, rows: data }, recipe)), done };
  } catch (error) {
    await done();
    throw error;
  }
}

/** The table of a recipe, of all sessions that are no rehearsals and their rows; what does not fit the study is left out of it and told. */
export async function recipeTable(
  store: Store,
  { reader: everybody, rows: data }: { reader: DataReader; rows: TidyData },
  recipe: Recipe,
): Promise<RecipeTable> {
  const { study } = everybody;
  const waves = await wavesOf(store.db, study.id);
  const wave = waves.find(({ plan }) => plan.name === recipe.wave)?.id;
  const ofWave = (sitting: Sitting) => recipe.wave === null || (wave !== undefined && sitting.row.wave_id === wave);
  const exclusions = await exclusionsOf(store.db, study.id);
  const { rules } = exclusions.sets.find(({ name }) => name === recipe.exclusions) ?? exclusions.used;
  const available = await availableIn(store, everybody, recipe.rows);
  const own = data.only(ofWave);
  const verdict = await leftOutOf(own, everybody.documents, rules);
  const isIn = (sitting: Sitting) => {
    if (recipe.sessions === "all") return true;
    return recipe.sessions === "finished"
      ? sitting.facts.state === "finished"
      : isJudged(sitting) && verdict.keeps(sitting);
  };
  const told = withScores(own.with(verdict.columns), everybody).only(isIn);
  const columns = recipe.columns.filter((column) => misfitOf(column, recipe, available) === null);
  const whole = { ...recipe, columns };
  const made = isOfPersons(recipe.rows)
    ? await ofPersons(await withSessions(told, whole, available), everybody, whole)
    : await ofTable(told, whole, tableOf[isTableRow(recipe.rows) ? recipe.rows : "trial"], available.row);
  return {
    ...made,
    columns: columns.map((column) => described(column, whole, available)),
    misfits: misfits(recipe, available),
    available,
  };
}

/** What a column of the file is, as codebooks and formats with types are told. */
function described(column: RecipeColumn, recipe: Recipe, available: AvailableHere): WrittenColumn {
  const { name } = column;
  if (column.is === "column") {
    const there = column.of === "session" ? available.columns.session : rowColumns(available.columns, recipe.rows);
    const known = there.find((each) => each.name === column.column);
    // A column that makes conditions is one of trials.
    const levels = [...(available.levels.get(column.column) ?? [])].join(", ");
    return known ? { ...known, name } : { name, meaning: column.column, unit: "", type: "text", values: levels };
  }
  const numbers = column.is === "measure" ? column : recipe.columns.find((each) => each.name === column.of);
  const unit = numbers?.is === "measure" && measures[numbers.measure].unit === "ms" ? "milliseconds" : "";
  const isCount = column.is === "measure" && column.measure === "trials";
  return { name, meaning: columnInWords(column), unit, type: isCount ? "whole number" : "number", values: "" };
}

/** The same data, of the sessions that are asked for by their own columns. */
async function withSessions(data: TidyData, recipe: Recipe, available: Available): Promise<TidyData> {
  if (recipe.where.length === 0 && recipe.containing.trim() === "") return data;
  const names = recipe.columns.flatMap((column) =>
    column.is === "column" && column.of === "session" ? column.column : [],
  );
  const marks = await marksIn(data, "sessions", recipe, names, available.session);
  const isIn = new Set<string>();
  let row = 0;
  for (const sitting of data.sittings) {
    if (marks[row] === 1) isIn.add(sitting.row.id);
    row += data.rowsOf("sessions", sitting);
  }
  return data.only(({ row: { id } }) => isIn.has(id));
}

/** Which rows of a table are asked for: a mark for each. */
async function marksIn(
  data: TidyData,
  table: TidyTableName,
  { where, containing, trials }: Recipe,
  names: readonly string[],
  known: ReadonlySet<string>,
): Promise<Uint8Array> {
  const conditions = await Promise.all(
    where
      .filter(({ column }) => known.has(column))
      .map(async ({ column, ...condition }) => ({ ...condition, of: await data.column(table, column) })),
  );
  if (table === "trials" && trials === "kept")
    conditions.push({ is: "is-not", value: "yes", of: await data.column("trials", leftOutNames.is) });
  const found = containing.trim() === "" ? undefined : await data.containing(table, names, containing);
  return marksSought(data.count(table), { conditions, found });
}

/** Rows as a table has them, with columns of their sessions where these are asked for. */
async function ofTable(
  data: TidyData,
  recipe: Recipe,
  table: TidyTableName,
  known: ReadonlySet<string>,
): Promise<Made> {
  const { columns } = recipe;
  const names = [
    ...new Set(columns.flatMap((column) => (column.is === "column" && column.of === "row" ? column.column : []))),
  ];
  const placeIn = columns.map((column) =>
    column.is === "column" && column.of === "row" ? names.indexOf(column.column) : -1,
  );
  const ofSession = await ofSessions(data, columns);
  const marks = await marksIn(data, table, recipe, names, known);
  const rows = marks.reduce((sum, mark) => sum + mark, 0);
  const places = new Map<string, { at: number; from: number }>();
  let first = 0;
  for (const [at, sitting] of data.sittings.entries()) {
    places.set(sitting.row.id, { at, from: first });
    first += data.rowsOf(table, sitting);
  }
  const batches = async function* (): AsyncGenerator<Batch> {
    let waiting: Cell[][] = [];
    for await (const { sitting, columns: read, from, to } of data.batches(table, names)) {
      const place = places.get(sitting.row.id) ?? { at: 0, from: 0 };
      const whole = columns.map((column, index) => {
        const session = ofSession.get(column);
        return session ? { one: cellAt(session, place.at) } : (read[placeIn[index] ?? -1] ?? null);
      });
      const isIn = (row: number) => marks[place.from + row] === 1;
      if (to - from >= rowsTogether / 10 && !marks.subarray(place.from + from, place.from + to).includes(0)) {
        if (waiting.length > 0) yield waiting;
        waiting = [];
        yield { columns: whole, from, to };
        continue;
      }
      for (let row = from; row < to; row++)
        if (isIn(row)) waiting.push(whole.map((column) => (column ? cellAt(column, row) : null)));
      if (waiting.length < rowsTogether) continue;
      yield waiting;
      waiting = [];
    }
    if (waiting.length > 0) yield waiting;
  };
  return { rows, batches };
}
