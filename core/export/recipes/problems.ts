import { headerName } from "../../values/header-names";
import { isOfPersons, type Recipe, type RecipeColumn } from "./recipe";

/** What there is in a study that recipes can ask for. */
export type Available = {
  /** Columns of the row’s own table, and of sessions. */
  row: ReadonlySet<string>;
  session: ReadonlySet<string>;
  /** Columns of trials by which conditions are told apart, with the levels that the design has. */
  levels: ReadonlyMap<string, ReadonlySet<string>>;
  /** Columns of numbers of which means can be taken. */
  numbers: ReadonlySet<string>;
  waves: ReadonlySet<string>;
  /** Sets of exclusions. */
  exclusions: ReadonlySet<string>;
};

/** What is wrong with what a column is to be called in a file; null where nothing is. */
export function columnNameProblem(name: string): string | null {
  if (name.trim() === "") return "A column needs a name.";
  const valid = headerName(name);
  return valid === name
    ? null
    : `“${name}” is no name that R, SQL and statistics programs all take. “${valid}” is one.`;
}

/** The names that several columns have, whatever the case of their letters. */
const doubled = (columns: readonly RecipeColumn[]): Set<string> => {
  const seen = new Set<string>();
  const twice = new Set<string>();
  for (const { name } of columns) {
    const plain = name.toLowerCase();
    if (seen.has(plain)) twice.add(plain);
    seen.add(plain);
  }
  return twice;
};

/** Why a file cannot be made as the recipe says: names that no program would take, or that stand twice. */
export function nameProblems({ columns }: Pick<Recipe, "columns">): string[] {
  const twice = doubled(columns);
  const problems = columns.flatMap(({ name }) => {
    const problem = columnNameProblem(name);
    return problem ?? (twice.has(name.toLowerCase()) ? `More than one column is called “${name}”.` : []);
  });
  return columns.length === 0 ? ["The recipe has no columns yet."] : [...new Set(problems)];
}

const noColumn = (name: string) => `this study has no column “${name}”`;

/** Why a column cannot be in the file of this study; null where it can. */
export function misfitOf(column: RecipeColumn, recipe: Recipe, available: Available): string | null {
  switch (column.is) {
    case "column": {
      const isBy = recipe.rows === "person-condition" && column.of === "row";
      const there = isBy ? recipe.by.includes(column.column) : available[column.of].has(column.column);
      return there ? null : noColumn(column.column);
    }
    case "measure": {
      if (!isOfPersons(recipe.rows)) return "numbers computed from trials need rows of sessions or persons";
      if (column.measure === "column" && !available.numbers.has(column.numbers ?? ""))
        return `this study has no numbers “${column.numbers ?? ""}”`;
      const levels = [...column.where, ...(column.signal ? [column.signal] : [])];
      for (const { column: name, level } of levels) {
        const known = available.levels.get(name);
        if (!known) return noColumn(name);
        if (known.size > 0 && !known.has(level)) return `“${name}” has no level “${level}” in this study`;
      }
      return null;
    }
    case "difference": {
      for (const name of [column.of, column.less]) {
        const other = recipe.columns.find((each) => each.name === name && each !== column);
        if (!other || other.is === "difference") return `it needs the column of numbers “${name}”`;
        const misfit = misfitOf(other, recipe, available);
        if (misfit !== null) return misfit;
      }
      return null;
    }
  }
}

/** The columns that rows can be chosen by. */
export const conditionsOn = ({ rows }: Pick<Recipe, "rows">, available: Available): ReadonlySet<string> =>
  isOfPersons(rows) ? available.session : available.row;

/** What of a recipe does not fit a study, by name: the columns that are missing from its file, and a wave or a set of exclusions it does not have. */
export function misfits(recipe: Recipe, available: Available): string[] {
  const missing = recipe.columns.flatMap((column) => {
    const misfit = misfitOf(column, recipe, available);
    return misfit === null ? [] : `“${column.name}” is not in the file: ${misfit}.`;
  });
  const by = recipe.rows === "person-condition" ? recipe.by.filter((name) => !available.levels.has(name)) : [];
  return [
    ...(recipe.wave !== null && !available.waves.has(recipe.wave)
      ? [`There is no wave “${recipe.wave}” here, so the file has no rows.`]
      : []),
    ...(recipe.exclusions !== undefined && !available.exclusions.has(recipe.exclusions)
      ? [`There are no exclusions “${recipe.exclusions}” here: those in use are taken.`]
      : []),
    ...recipe.where
      .filter(({ column }) => !conditionsOn(recipe, available).has(column))
      .map(({ column }) => `The condition on “${column}” is passed over: this study has no such column.`),
    ...by.map((name) => `Conditions cannot be told apart by “${name}”: this study has no such column.`),
    ...missing,
  ];
}
