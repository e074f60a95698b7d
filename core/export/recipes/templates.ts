import type { WrittenColumn } from "../formats/format";
import type { MeasureName } from "../../stats/measures";
import { distinctHeaders } from "../../values/header-names";
import { columnStem, freeName } from "../../values/names";
import {
  isOfPersons,
  rowColumns,
  type MeasureColumn,
  type Recipe,
  type RecipeColumn,
  type RowKind,
  type TableRow,
} from "./recipe";

/** What a new recipe can begin with. */
type Known = {
  columns: Record<TableRow, Pick<WrittenColumn, "name" | "isOwnWords">[]>;
  levels: readonly { column: string; levels: readonly string[] }[];
};

const begun = (rows: RowKind, columns: RecipeColumn[], by: string[] = []): Recipe => ({
  ...{ rows, by, columns, wave: null, sessions: "kept", trials: "kept", where: [], containing: "" },
  ...{ format: "csv", decimal: ".", missing: "" },
});
const plain = (of: "row" | "session", column: string): RecipeColumn => ({ is: "column", of, column, name: column });

/** A name for a column, made of words, that none of the others has. */
export const columnName = (words: readonly string[], others: readonly { name: string }[]): string =>
  distinctHeaders(
    [columnStem(words.join(" "))],
    others.map(({ name }) => name),
  )[0] ?? "";
/** The name, or one like it that none of the others has. */
export const freeColumn = (name: string, others: readonly { name: string }[]): string =>
  freeName(
    name,
    others.map((each) => each.name),
  );

/** `right` would be a word of SQL. */
const stems: Partial<Record<MeasureName, string>> = {
  mean: "rt",
  accuracy: "accuracy",
  sensitivity: "d_prime",
  choiceSensitivity: "d_prime_of_two",
  criterion: "criterion",
  inverse: "inverse_efficiency",
  balanced: "balanced",
  trials: "trials",
};
const stemOf = ({ measure, numbers }: Pick<MeasureColumn, "measure" | "numbers">) => {
  if (measure === "column") return numbers ?? "mean";
  return stems[measure] ?? `rt_${measure}`;
};

/** Columns of a measure: one of all trials, or one for each level of a column. */
export function measureColumns(
  asked: Pick<MeasureColumn, "measure" | "numbers" | "signal">,
  by: { column: string; levels: readonly string[] } | null,
  others: readonly RecipeColumn[],
): MeasureColumn[] {
  const made: MeasureColumn[] = [];
  for (const level of by?.levels ?? [null]) {
    made.push({
      ...{ is: "measure", measure: asked.measure, numbers: asked.numbers, signal: asked.signal },
      where: by && level !== null ? [{ column: by.column, level }] : [],
      name: columnName([stemOf(asked), ...(level === null ? [] : [level])], [...others, ...made]),
    });
  }
  return made;
}

/** A recipe to begin with, for rows of a kind. */
export function freshRecipe(rows: RowKind, { columns, levels }: Known): Recipe {
  const factor = levels.find((each) => each.levels.length > 1 && each.levels.length <= 12) ?? null;
  if (rows === "trial" || rows === "answer" || rows === "event")
    return begun(
      rows,
      rowColumns(columns, rows).map(({ name }) => plain("row", name)),
    );
  const session = (name: string) =>
    columns.session.some((each) => each.name === name) ? [plain("session", name)] : [];
  const who = ["participant", "group_name"].flatMap(session);
  if (rows === "session")
    return begun(
      rows,
      // What could tell who somebody is comes along where it is asked for.
      columns.session.flatMap(({ name, isOwnWords }) => (isOwnWords ? [] : [plain("session", name)])),
    );
  const asked = (measure: MeasureName) => ({ measure, numbers: null, signal: null });
  const by = rows === "person-condition" && factor ? [factor.column] : [];
  const made: RecipeColumn[] = [...who, ...by.map((name) => ({ ...plain("row", name), name: freeColumn(name, who) }))];
  for (const measure of ["mean", "accuracy"] as const)
    made.push(...measureColumns(asked(measure), rows === "person" ? factor : null, made));
  return begun(rows, made, by);
}

/** The recipe with other rows: with the columns that these have, too, or those to begin with where none is left. */
export function withRows(recipe: Recipe, rows: RowKind, known: Known): Recipe {
  const own = new Set(rowColumns(known.columns, rows).map(({ name }) => name));
  const ofSession = new Set(known.columns.session.map(({ name }) => name));
  const columns = recipe.columns.flatMap((column): RecipeColumn[] => {
    if (column.is !== "column") return isOfPersons(rows) ? [column] : [];
    if (own.has(column.column)) return [{ ...column, of: "row" }];
    return ofSession.has(column.column) ? [{ ...column, of: "session" }] : [];
  });
  const fresh = freshRecipe(rows, known);
  const says = columns.filter((column) => column.is !== "column" || column.of === "row");
  const isBare = isOfPersons(rows) ? !says.some(({ is }) => is === "measure") && rows !== "session" : says.length === 0;
  const by = rows === "person-condition" ? fresh.by : [];
  const begins = fresh.columns.filter(
    (column) => column.is === "column" && column.of === "row" && by.includes(column.column),
  );
  const conditions = isOfPersons(rows) ? ofSession : own;
  const where = recipe.where.filter(({ column }) => conditions.has(column));
  return { ...recipe, rows, by, where, columns: isBare ? fresh.columns : [...begins, ...columns] };
}

/** The recipe of rows as somebody looks at them: their columns, and what they are asked to fulfil. */
export const recipeOfRows = (
  rows: TableRow,
  columns: readonly string[],
  { where, containing }: Pick<Recipe, "where" | "containing">,
): Recipe => ({
  ...begun(
    rows,
    columns.map((column) => plain(rows === "session" ? "session" : "row", column)),
  ),
  ...{ where, containing, sessions: "all", trials: "all" },
});
