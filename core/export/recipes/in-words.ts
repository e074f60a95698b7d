import { inList } from "../../describe/in-words";
import { measures } from "../../stats/measures";
import { exportFormats } from "../formats/registry";
import { rowKinds, whichSessions, type MeasureColumn, type Recipe, type RecipeColumn } from "./recipe";

/** What a column of numbers is: “mean reaction time where neighbours is against”. */
export function measureInWords({ measure, numbers, where, signal }: MeasureColumn): string {
  const what = measure === "column" ? `mean of ${numbers ?? ""}` : measures[measure].called;
  const places = where.map(({ column, level }) => `${column} is ${level || "empty"}`);
  return [
    what,
    ...(signal ? [`with the signal ${signal.level} of ${signal.column}`] : []),
    ...(places.length > 0 ? [`where ${inList(places)}`] : []),
  ].join(" ");
}

/** What a column holds, in a few words. */
export const columnInWords = (column: RecipeColumn): string => {
  if (column.is === "measure") return measureInWords(column);
  return column.is === "difference" ? `${column.of} − ${column.less}` : column.column;
};

/** Formats in which numbers and missing values are written as text. */
export const isPlainText = ({ format }: Pick<Recipe, "format">): boolean =>
  format === "csv" || format === "spreadsheet" || format === "tsv";

/** A recipe in a line, as a list of them tells it. */
export function recipeInShort({ rows, by, columns, format, wave, sessions, exclusions }: Recipe): string {
  const count = `${columns.length} ${columns.length === 1 ? "column" : "columns"}`;
  const each = `A row for each ${rowKinds[rows]}${rows === "person-condition" && by.length > 0 ? ` of ${inList(by)}` : ""}`;
  return `${each}, ${count}, ${whichSessions[sessions]}${wave === null ? "" : ` of ${wave}`}${exclusions === undefined ? "" : `, exclusions “${exclusions}”`}, .${exportFormats[format].extension}`;
}
