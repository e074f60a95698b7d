import { seedOf } from "../../core/order/seed";
import { answerSources, answerTableColumns, type AnswerSource } from "../../core/export/tables/page-answers";
import { shownTable, type ShownTable } from "../../core/export/tables/table";
import type { TrialSource } from "../../core/export/tables/trial-source";
import { trialColumns } from "../../core/export/tables/trials";
import type { DataReader, Sitting } from "../export/reader";
import type { Result } from "./result";

export type RecordsQuestion = { page: number; pilots: boolean };
export type RecordsPage = ShownTable & { total: number; pages: number };

const rowsAPage = 100;

/** Trials in the order and columns in which they are exported, a page at a time. */
export const records: Result<RecordsQuestion, RecordsPage> = {
  ask: (query) => ({
    page: Math.max(1, Math.floor(Number(query.get("page")) || 1)),
    pilots: query.get("pilots") === "yes",
  }),
  answer: async (reader, { page }) => {
    const from = (page - 1) * rowsAPage;
    // Only sessions that reach into the page are read.
    const reaching: Sitting[] = [];
    let total = 0;
    let first = 0;
    for (const sitting of reader.sittings) {
      const { trials } = sitting.row;
      if (total < from + rowsAPage && total + trials > from) {
        if (reaching.length === 0) first = total;
        reaching.push(sitting);
      }
      total += trials;
    }
    const sources = await all(reader.trials(reaching));
    return {
      ...shownTable(trialColumns(reader.documents), sources.slice(from - first, from - first + rowsAPage)),
      total,
      pages: Math.max(1, Math.ceil(total / rowsAPage)),
    };
  },
};

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
    const { records } = await reader.everythingOf(sitting);
    answered.push(...answerSources(document, sitting.facts, seedOf(document, sitting.row.sitting), records));
  }
  return { rows, answers: shownTable(answersOfOne, answered) };
}

async function all(batches: AsyncIterable<TrialSource[]>): Promise<TrialSource[]> {
  const sources: TrialSource[] = [];
  for await (const batch of batches) sources.push(...batch);
  return sources;
}
