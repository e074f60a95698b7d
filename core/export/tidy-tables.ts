import type { StudyDocument } from "../design/document";
import { questionsInOrder } from "../design/questions";
import type { LogChunk } from "../records/log";
import type { SessionRecord } from "../records/record";
import { hiddenOfSessions, hiddenOfTrials } from "../tidy/hidden-columns";
import { dataColumn, type DataColumn } from "../values/data-column";
import { eventColumns, sessionEvents } from "./tables/events";
import { answerSources, answerTableColumns } from "./tables/page-answers";
import { scoreOf } from "./tables/score";
import { sessionColumns, type SessionSource } from "./tables/sessions";
import type { SessionFacts, TrialColumn } from "./tables/trial-source";
import { trialColumns, trialsIn } from "./tables/trials";

/** All that is stored of a session, with the document it was played on. */
export type WholeSession = {
  document: StudyDocument;
  facts: SessionFacts;
  seed: string;
  records: readonly SessionRecord[];
  log: readonly LogChunk[];
  session: SessionSource;
};

/** A table with one row a session, or several. */
type TidyTable<Source> = {
  /** Its columns as they are exported, for all documents that were played, newest first. */
  columns: (documents: readonly StudyDocument[]) => readonly DataColumn<Source>[];
  /** Columns that are kept for results and not exported; no exported one can have such a name. */
  hidden: readonly DataColumn<Source>[];
  /** What the rows of a session are read from. */
  rows: (session: WholeSession) => readonly Source[];
};

const scored = (name: string, read: (score: ReturnType<typeof scoreOf>) => number | null): TrialColumn =>
  dataColumn(name, "number", "How the trial was scored", (source) => read(scoreOf(source)));

const trials: TidyTable<Parameters<TrialColumn["read"]>[0]> = {
  columns: trialColumns,
  hidden: [
    scored(hiddenOfTrials.right, ({ right }) => (right === null ? null : Number(right))),
    scored(hiddenOfTrials.rt, ({ rt }) => rt),
    dataColumn(hiddenOfTrials.isFirst, "number", "Whether it was shown the first time", ({ record }) =>
      record.showing === undefined ? 1 : 0,
    ),
  ],
  rows: ({ document, facts, records }) => trialsIn(document, facts, records),
};
const answers: TidyTable<ReturnType<typeof answerSources>[number]> = {
  columns: () => answerTableColumns,
  hidden: [],
  rows: ({ document, facts, seed, records }) =>
    questionsInOrder(document).length === 0 ? [] : answerSources(document, facts, seed, records),
};
const events: TidyTable<ReturnType<typeof sessionEvents>[number]> = {
  columns: eventColumns,
  hidden: [],
  rows: ({ document, facts, records, log }) => sessionEvents(facts, document, records, log),
};
const sessions: TidyTable<SessionSource> = {
  columns: sessionColumns,
  hidden: [
    dataColumn(hiddenOfSessions.minutes, "number", "How long it took; empty while it has not ended", (source) =>
      source.finishedAt === null ? null : (Date.parse(source.finishedAt) - Date.parse(source.startedAt)) / 60_000,
    ),
  ],
  rows: ({ session }) => [session],
};

/** The tables with rows of their own for a session, and for what happened in it. */
export const tidyTables = { trials, answers, sessions, events };
export type TidyTableName = keyof typeof tidyTables;
export const tidyTableNames = Object.keys(tidyTables) as TidyTableName[];

/** A table's columns, those that are kept for results among them, with what its rows are read from. */
export const tidyColumns = (name: TidyTableName, documents: readonly StudyDocument[]): readonly DataColumn<never>[] => [
  ...tidyTables[name].columns(documents),
  ...tidyTables[name].hidden,
];
