import type { ExportFormat, WrittenColumn } from "./formats/format";
import { dataColumn, type DataColumn } from "../values/data-column";

/** The codebook as a table: one row a column of the trials table. */
export const codebookColumns: readonly DataColumn<WrittenColumn>[] = [
  dataColumn("name", "text", "Name of the column", ({ name }) => name),
  dataColumn("meaning", "text", "What it holds", ({ meaning }) => meaning),
  dataColumn("unit", "text", "Unit of its numbers", ({ unit }) => unit),
  dataColumn("type", "text", "Type of its cells", ({ type }) => type),
  dataColumn("values", "text", "Values it can have, where they can be listed", ({ values }) => values),
];

const cell = (text: string) => text.replaceAll("|", "\\|").replaceAll("\n", " ");

/** The codebook to read. */
export function codebookMarkdown(
  columns: readonly WrittenColumn[],
  title: string,
  code: string,
  { extension, written }: Pick<ExportFormat, "extension" | "written">,
): string {
  const lines = columns.map(
    ({ name, meaning, unit, type, values }) =>
      `| \`${name}\` | ${cell(meaning)} | ${unit} | ${type} | ${cell(values)} |`,
  );
  return [
    `# Codebook of “${title}” (${code})`,
    "",
    ...inLines(
      `\`trials.${extension}\` has one row a trial, \`sessions.${extension}\` one row a session, \`events.${extension}\` one row ` +
        "for everything that happened in a session: scenes, answers, trials broken off, and what the window, the network " +
        `and the keys did. All are ${written}. Trials that were broken off and played again are in ` +
        `\`events.${extension}\` only.`,
    ),
    ...inLines(
      "Times are in milliseconds from the session's start, to a tenth, except `rt_ms`, which counts from the onset that " +
        "opened the answer window. A missing value is an empty cell, never 0. Wall-clock times are ISO 8601 in UTC.",
    ),
    "",
    "| name | meaning | unit | type | values |",
    "|---|---|---|---|---|",
    ...lines,
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
