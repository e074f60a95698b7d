import type { ExportFormat, WrittenColumn } from "./formats/format";
import { dataColumn, type DataColumn } from "../values/data-column";

/** A table of the export with its columns; `one` says what a row is. */
export type DescribedTable = { name: string; one: string; columns: readonly WrittenColumn[] };
type Line = WrittenColumn & { table: string };

/** The codebook as a table: one row a column of any of the tables. */
export const codebookColumns: readonly DataColumn<Line>[] = [
  dataColumn("table", "text", "Table the column is in", ({ table }) => table),
  dataColumn("name", "text", "Name of the column", ({ name }) => name),
  dataColumn("meaning", "text", "What it holds", ({ meaning }) => meaning),
  dataColumn("unit", "text", "Unit of its numbers", ({ unit }) => unit),
  dataColumn("type", "text", "Type of its cells", ({ type }) => type),
  dataColumn("values", "text", "Values it can have, where they can be listed", ({ values }) => values),
];

export const codebookLines = (tables: readonly DescribedTable[]): Line[] =>
  tables.flatMap(({ name: table, columns }) => columns.map((column) => ({ ...column, table })));

const cell = (text: string) => text.replaceAll("|", "\\|").replaceAll("\n", " ");

/** The codebook to read. */
export function codebookMarkdown(
  tables: readonly DescribedTable[],
  title: string,
  code: string,
  { extension, written }: Pick<ExportFormat, "extension" | "written">,
): string {
  const files = tables.map(({ name, one }) => `\`${name}.${extension}\` has one row ${one}`).join(", ");
  return [
    `# Codebook of “${title}” (${code})`,
    "",
    ...inLines(`${files}. All are ${written}. Trials that were broken off and played again are among the events only.`),
    "",
    ...inLines(
      "Times are in milliseconds from the session's start, to a tenth, except reaction times, which count from the onset " +
        "that opened the answer window. A missing value is an empty cell (null, or missing, where the format has that), never 0. Wall-clock times are in UTC, as " +
        "year-month-day hours:minutes:seconds.",
    ),
    "",
    ...inLines(
      "Read columns by the types given here rather than by guessing: programs that guess turn the keys `t` and `f` into " +
        "true and false, and the text `NA` into a missing value.",
    ),
    ...tables.flatMap(({ name, columns }) => [
      "",
      `## ${name}.${extension}`,
      "",
      "| name | meaning | unit | type | values |",
      "|---|---|---|---|---|",
      ...columns.map(
        ({ name, meaning, unit, type, values }) =>
          `| \`${name}\` | ${cell(meaning)} | ${unit} | ${type} | ${cell(values)} |`,
      ),
    ]),
    "",
  ].join("\n");
}

/** A paragraph in lines of at most this many characters, as long as its words allow. */
function inLines(paragraph: string, most = 122): string[] {
  const lines: string[] = [];
  for (const word of paragraph.split(" ")) {
    const line = lines.at(-1);
    if (line !== undefined && line.length + 1 + word.length <= most) lines[lines.length - 1] = `${line} ${word}`;
    else lines.push(word);
  }
  return lines;
}
