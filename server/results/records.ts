import { blocksInOrder } from "../../core/design/lookup";
import { comparisonNames, pageSorted, rowsSought, type Condition } from "../../core/tidy/chosen-rows";
import type { Column } from "../../core/tidy/column";
import type { DataColumn } from "../../core/values/data-column";
import { seedOf } from "../../core/order/seed";
import { answerSources, answerTableColumns, type AnswerSource } from "../../core/export/tables/page-answers";
import { shownTable, type ShownTable } from "../../core/export/tables/table";
import type { TrialSource } from "../../core/export/tables/trial-source";
import { trialColumns } from "../../core/export/tables/trials";
import type { DataReader } from "../export/reader";
import { tableColumns } from "./table-columns";
import { madeNow, type TidyData } from "../tidy/tidy-data";
import type { Result } from "./result";

/** What a row of the table is. */
export const recordTables = ["trials", "answers", "sessions", "events"] as const;
export type RecordTableName = (typeof recordTables)[number];

export type RecordsQuestion = {
  table: RecordTableName;
  /** Rehearsals instead of sessions. */
  pilots: boolean;
  page: number;
  sort: { column: string; isFalling: boolean } | null;
  conditions: Condition[];
  search: string;
  /** The columns that are shown, where not all are. */
  columns: string[] | null;
};
/** A column there is: shown or not. */
export type RecordColumn = Pick<DataColumn<never>, "name" | "type" | "meaning" | "unit">;
export type RecordsPage = ShownTable & {
  all: RecordColumn[];
  /** Rows that are looked for, and all there are. */
  total: number;
  outOf: number;
  pages: number;
  perPage: number;
};

const rowsAPage = 100;
const [mostConditions, mostSearched] = [20, 200];

/** `COLUMN comparison VALUE`, as an address has it: the parts are separated by “~”. */
function conditionIn(text: string): Condition | null {
  const [column = "", comparison, ...rest] = text.split("~");
  const is = comparisonNames.find((each) => each === comparison);
  return is && column !== "" ? { column, is, value: rest.join("~").slice(0, mostSearched) } : null;
}

/** Trials, answers, sessions or events in the columns in which they are exported, filtered and sorted, a page at a time. */
export const records: Result<RecordsQuestion, RecordsPage> = {
  ask: (query, reader) => {
    // A study without trials has answers.
    const usual = reader.documents.some((document) => blocksInOrder(document).length > 0) ? "trials" : "answers";
    const table = recordTables.find((each) => each === query.get("rows")) ?? usual;
    const names = new Set(tableColumns(table, reader).map(({ name }) => name));
    const sort = query.get("sort") ?? "";
    const column = sort.replace(/^-/, "");
    const shown =
      query
        .get("columns")
        ?.split(",")
        .filter((name) => names.has(name)) ?? [];
    return {
      table,
      page: Math.max(1, Math.floor(Number(query.get("page")) || 1)),
      pilots: query.get("pilots") === "yes",
      sort: names.has(column) ? { column, isFalling: sort.startsWith("-") } : null,
      conditions: query
        .getAll("where")
        .slice(0, mostConditions)
        .flatMap((text) => conditionIn(text) ?? [])
        .filter((condition) => names.has(condition.column)),
      search: (query.get("find") ?? "").slice(0, mostSearched),
      columns: shown.length > 0 ? shown : null,
    };
  },
  showsLeftOut: true,
  answer: async ({ reader, tidy }, question) => {
    const read = (data: TidyData) => pageOf(data, reader, question);
    return question.pilots ? read(await madeNow(reader.only(({ facts }) => facts.pilot))) : tidy(read);
  },
};

async function pageOf(
  data: TidyData,
  reader: DataReader,
  { table, page, sort, conditions, search, columns }: RecordsQuestion,
): Promise<RecordsPage> {
  const all = tableColumns(table, reader);
  const outOf = data.count(table);
  const known = new Map<string, Column>();
  const columnCalled = async (name: string) => {
    const column = known.get(name) ?? (await data.column(table, name));
    known.set(name, column);
    return column;
  };
  const shown = columns ?? all.map(({ name }) => name);
  const sought = rowsSought(outOf, {
    conditions: await Promise.all(
      conditions.map(async (condition) => ({ ...condition, of: await columnCalled(condition.column) })),
    ),
    found: search.trim() === "" ? undefined : await data.containing(table, shown, search),
  });
  const pages = Math.max(1, Math.ceil(sought.length / rowsAPage));
  const [from, to] = [(page - 1) * rowsAPage, page * rowsAPage];
  const rows = sort
    ? pageSorted(sought, { by: await columnCalled(sort.column), isFalling: sort.isFalling }, from, to)
    : sought.slice(from, to);
  return {
    header: shown,
    rows: await data.cells(table, rows, shown),
    all: all.map(({ name, type, meaning, unit }) => ({ name, type, meaning, unit })),
    total: sought.length,
    outOf,
    pages,
    perPage: rowsAPage,
  };
}

const names = ["page", "question", "line", "value", "label", "state", "is_right", "points", "first_ms", "last_ms"];
/** Columns of the answers that tell the rows of one session apart, the answer itself among the first. */
const answersOfOne = names.flatMap((name) => answerTableColumns.filter((column) => column.name === name));

/** The trials of a reader of one session, and what was answered on its pages, in columns of the export. */
export async function sessionTables(reader: DataReader): Promise<{ rows: ShownTable; answers: ShownTable }> {
  const { sittings } = reader;
  const rows = shownTable(trialColumns(reader.documents), await all(reader.trials()));
  const answered: AnswerSource[] = [];
  for (const sitting of sittings) {
    const { document } = sitting.release;
    const { records } = await reader.recordsAndLog(sitting);
    answered.push(...answerSources(document, sitting.facts, seedOf(document, sitting.row.sitting), records));
  }
  return { rows, answers: shownTable(answersOfOne, answered) };
}

async function all(batches: AsyncIterable<TrialSource[]>): Promise<TrialSource[]> {
  const sources: TrialSource[] = [];
  for await (const batch of batches) sources.push(...batch);
  return sources;
}
