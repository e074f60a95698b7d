import { seedOf } from "../../core/compile/seed";
import { answerSources, answerTableColumns } from "../../core/export/tables/page-answers";
import { shownTable, type ShownTable } from "../../core/export/tables/table";
import type { TrialSource } from "../../core/export/tables/trial-source";
import { trialColumns } from "../../core/export/tables/trials";
import type { Store } from "../database/open";
import { DataReader, type Sitting } from "../export/reader";
import type { Study } from "../studies";
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

/** The trials of one session in the export's columns. */
export async function sessionRows(store: Store, study: Study, sessionId: string): Promise<ShownTable> {
  const reader = await DataReader.open(store, study, { pilots: true });
  const sittings = reader.sittings.filter(({ facts }) => facts.session === sessionId);
  return shownTable(trialColumns(reader.documents), await all(reader.trials(sittings)));
}

/** What was answered on pages in one session, in the export's columns. */
export async function sessionAnswers(store: Store, study: Study, sessionId: string): Promise<ShownTable> {
  const reader = await DataReader.open(store, study, { pilots: true });
  const sitting = reader.sittings.find(({ facts }) => facts.session === sessionId);
  if (!sitting) return shownTable(answerTableColumns, []);
  const { facts, release, row } = sitting;
  const { document } = release;
  const { records } = await reader.everythingOf(sitting);
  return shownTable(answerTableColumns, answerSources(document, facts, seedOf(document, row.sitting), records));
}

async function all(batches: AsyncIterable<TrialSource[]>): Promise<TrialSource[]> {
  const sources: TrialSource[] = [];
  for await (const batch of batches) sources.push(...batch);
  return sources;
}
