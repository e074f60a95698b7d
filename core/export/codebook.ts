import type { ExportColumn } from "./columns";
import { csvLine, csvStart, type CsvOptions } from "./csv";

const head = ["name", "meaning", "unit", "type", "values"] as const;

/** The codebook as a table: one line a column of the trials file. */
export const codebookCsv = (columns: readonly ExportColumn[], options: CsvOptions): string =>
  csvStart(head, options) +
  columns
    .map((column) =>
      csvLine(
        head.map((key) => column[key]),
        options,
      ),
    )
    .join("");

const cell = (text: string) => text.replaceAll("|", "\\|").replaceAll("\n", " ");

/** The codebook to read. */
export function codebookMarkdown(columns: readonly ExportColumn[], title: string, code: string): string {
  const lines = columns.map(
    ({ name, meaning, unit, type, values }) =>
      `| \`${name}\` | ${cell(meaning)} | ${unit} | ${type} | ${cell(values)} |`,
  );
  return [
    `# Codebook of “${title}” (${code})`,
    "",
    "`trials.csv` has one row a trial, `sessions.csv` one row a session, `events.csv` one row for everything that happened in a",
    "session: scenes, answers, trials broken off, and what the window, the network and the keys did. All are UTF-8,",
    "comma-separated, by RFC 4180. Trials that were broken off and played again are in `events.csv` only.",
    "Times are in milliseconds from the session's start, to a tenth, except `rt_ms`, which counts from the onset that opened",
    "the answer window. A missing value is an empty cell, never 0. Wall-clock times are ISO 8601 in UTC.",
    "",
    "| name | meaning | unit | type | values |",
    "|---|---|---|---|---|",
    ...lines,
    "",
  ].join("\n");
}
