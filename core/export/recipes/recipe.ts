import { list, object, variant } from "../../shape/compound";
import { oneOf, only, readableName, text } from "../../shape/plain";
import { nullable, optional, type Of } from "../../shape/shape";
import { comparisonNames } from "../../tidy/chosen-rows";
import { measureNames } from "../../stats/measures";
import { formatNames } from "../formats/registry";

/** What a row of the file is. */
export const rowKinds = {
  trial: "trial",
  answer: "answer on a page",
  event: "event",
  session: "session",
  person: "person",
  "person-condition": "person in each condition",
} as const;
export type RowKind = keyof typeof rowKinds;
export const rowKindNames = Object.keys(rowKinds) as RowKind[];

/** Rows that a table has as they are. */
export const tableRows = ["trial", "answer", "event", "session"] as const;
export type TableRow = (typeof tableRows)[number];
export const isTableRow = (rows: RowKind): rows is TableRow => (tableRows as readonly RowKind[]).includes(rows);
/** The columns of the row’s own table; those of sessions are asked for as theirs. */
export const rowColumns = <C>(columns: Readonly<Record<TableRow, C[]>>, rows: RowKind): C[] =>
  isTableRow(rows) && rows !== "session" ? columns[rows] : [];

/** Which sessions are in; rehearsals never are. */
export const whichSessions = {
  kept: "sessions kept",
  finished: "sessions finished",
  all: "sessions begun",
} as const;

const [longest, mostColumns, mostConditions] = [200, 500, 20];
/** How many columns make conditions. */
export const mostBy = 3;
const called = text({ most: longest });
const level = object({ column: called, level: called });
/** What the file calls the column. */
const name = called;

const columnShapes = {
  /** A column of the row’s own table, or of the session it belongs to. */
  column: object({ is: only("column"), of: oneOf("row", "session"), column: called, name }),
  /** A number of the trials of a session or person: of all of them, or where columns have these levels. */
  measure: object({
    is: only("measure"),
    measure: oneOf(...measureNames),
    /** The column whose numbers it is the mean of. */
    numbers: nullable(called),
    /** Which level of which column is the signal, for measures of detection. */
    signal: nullable(level),
    where: list(level, 0, mostBy),
    name,
  }),
  /** What one column of the file has more than another. */
  difference: object({ is: only("difference"), of: called, less: called, name }),
};
export const recipeColumn = variant("is", columnShapes);
export type RecipeColumn = Of<typeof recipeColumn>;
export type MeasureColumn = Of<typeof columnShapes.measure>;

/** A file that can be made again and again: what its rows are, its columns, and how it is written. */
export const recipe = object({
  rows: oneOf(...rowKindNames),
  /** The columns whose levels make conditions, where a row is a person in one of them. */
  by: list(called, 0, mostBy),
  /** Of one wave alone, by its name. */
  wave: nullable(called),
  sessions: oneOf("kept", "finished", "all"),
  /** The set of exclusions that leaves out, by its name; absent for the one that is in use. */
  exclusions: optional(called),
  /** Whether trials that are left out are in. */
  trials: oneOf("kept", "all"),
  /** Only rows whose cells, or whose sessions’ where rows are of persons, fulfil all of these, and contain a text. */
  where: list(object({ column: called, is: oneOf(...comparisonNames), value: called }), 0, mostConditions),
  containing: called,
  columns: list(recipeColumn, 0, mostColumns),
  format: oneOf(...formatNames),
  /** The decimal sign and what stands for a missing value, in formats of plain text. */
  decimal: oneOf(".", ","),
  missing: text({ most: 20, pattern: /^[^"\r\n\t;,]*$/, otherwise: "must not have quotes, separators or line breaks" }),
});
export type Recipe = Of<typeof recipe>;

/** A recipe as a file of its own, to be used in another study. */
export const recipeFile = object({
  form: only("lapwing-recipe-1"),
  name: readableName(),
  recipe,
});

/** Whether a row is somebody, with numbers of their trials. */
export const isOfPersons = (rows: RowKind): boolean =>
  rows === "session" || rows === "person" || rows === "person-condition";
