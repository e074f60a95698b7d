import { codebookColumns, codebookLines, codebookMarkdown, type DescribedTable } from "../../core/export/codebook";
import { dataPackage, readInPython, readInR } from "../../core/export/data-package";
import { csv } from "../../core/export/formats/csv";
import { tsv } from "../../core/export/formats/tsv";
import type { ExportFormat, Piece } from "../../core/export/formats/format";
import { eventColumns } from "../../core/export/tables/events";
import { answerTableColumns } from "../../core/export/tables/page-answers";
import { codeColumns, type CodeSource } from "../../core/export/tables/codes";
import { keptAsideColumns } from "../../core/export/tables/kept-aside";
import type { SessionSource } from "../../core/export/tables/sessions";
import { thresholdColumns, thresholdSource, type ThresholdSource } from "../../core/export/tables/thresholds";
import { methodMarkdown, type ToldExclusions } from "../../core/exclusions/method-markdown";
import { designPicture } from "../../core/describe/design-picture";
import { hasFollowing } from "../../core/design/lookup";
import { rowOf } from "../../core/export/tables/table";
import { trialColumns } from "../../core/export/tables/trials";
import { tidyTables, type TidyTableName } from "../../core/export/tidy-tables";
import type { Cell, DataColumn } from "../../core/values/data-column";
import { questionsInOrder } from "../../core/design/questions";
import { codesOfAll } from "../codes";
import type { Store } from "../database/open";
import { keptAsideOf, sessionsWithAside } from "../kept-aside";
import type { Study } from "../studies";
import { DataReader, otherTurns, type Sitting, type Taken } from "./reader";
import { sessionSource } from "./session-source";
import { cellAt } from "../../core/tidy/column";
import type { TrialSource } from "../../core/export/tables/trial-source";
import { exclusionsOf } from "../exclusions";
import { frozenText } from "../frozen-documents";
import { withScores } from "../results/derived";
import { tableColumns } from "../results/table-columns";
import { leftOutOf } from "../tidy/left-out";
import { openTidy, type WorkedOut } from "../tidy/tidy-data";
import { wholeSession } from "../tidy/gather";
import { written, writtenRows, type Batch } from "./written";
import { zipped, type FileInZip } from "./zip";

/** `codes`: with a table of the codes of participants, which are in no other; `design`: with the design, for whoever may see it. */
export type ExportChoice = Taken & { format: ExportFormat; codes?: boolean; design?: boolean };

/** Codebook, sessions, records kept aside where there are any, events and trials of a study in one zip. */
export const studyDataZip = (store: Store, study: Study, choice: ExportChoice): AsyncGenerator<Uint8Array> =>
  zipped(filesOf(store, study, choice));

/** A participant, by their number; or one session, of somebody who has none. */
export type Whose = { participant: number } | { session: string };

/** The same of one participant alone, with all that is stored of each sitting as it is stored. */
export async function* participantZip(store: Store, study: Study, whose: Whose): AsyncGenerator<Uint8Array> {
  const isTheirs = ({ row }: Sitting) =>
    "session" in whose ? row.id === whose.session : row.participant === whose.participant;
  yield* zipped(
    (async function* (): AsyncGenerator<FileInZip> {
      yield* filesOf(store, study, { format: csv, pilots: false, codes: true }, isTheirs);
      const reader = (await DataReader.open(store, study, { pilots: false })).only(isTheirs);
      for (const sitting of reader.sittings) {
        const everything = await reader.everythingOf(sitting);
        // The secret's hash is no data of theirs.
        const session = (await reader.inFull([sitting])).get(sitting.row.id);
        const whole = { session: { ...session, token_hash: undefined }, ...everything };
        yield { name: `sitting-${sitting.row.sitting}.json`, pieces: [`${JSON.stringify(whole, null, 1)}\n`] };
      }
    })(),
  );
}

/** Tables that can be taken away alone. */
export const tablesAlone = ["trials", "answers", "events", "sessions"] as const;
export type TableAlone = (typeof tablesAlone)[number];

/** One table of a study alone. */
export async function* tableFile(
  store: Store,
  study: Study,
  table: TableAlone,
  { format, ...which }: ExportChoice,
): AsyncGenerator<Piece> {
  const opened = await DataReader.open(store, study, which);
  const reader = which.pilots ? opened.asRecorded() : opened;
  const rows = await flatRows(store, study, reader, which);
  try {
    yield* writtenRows(format, tableColumns(table, reader), () => rows.of(table));
  } finally {
    await rows.done();
  }
}

/** The rows of a reader's tables with many rows a session, and what lets them go. */
export type FlatRows = {
  of: (table: TidyTableName) => AsyncGenerator<Batch>;
  /** Those of one session. */
  ofSession: (table: TidyTableName, sitting: Sitting) => AsyncGenerator<Batch>;
  /** What is left out of them; nothing is said where they are one participant's. */
  exclusions?: ToldExclusions;
  done: () => Promise<void>;
};

/** They are kept, but for those of rehearsals. What is left out, and why, stands in columns of its own. */
export async function flatRows(
  store: Store,
  study: Study,
  reader: DataReader,
  { pilots, wave }: Taken,
): Promise<FlatRows> {
  const namesOf = (table: TidyTableName) => tableColumns(table, reader).map(({ name }) => name);
  const everybody = wave == null && !pilots ? reader : await DataReader.open(store, study, { pilots: false });
  const { used } = await exclusionsOf(store.db, study.id);
  const { data, done } = await openTidy(store, everybody);
  const ids = new Set(reader.sittings.map(({ row }) => row.id));
  const own = data.only(({ row }) => ids.has(row.id));
  const { columns, counts } = await leftOutOf(own, everybody.documents, used.rules);
  const told = withScores(own.with(columns), everybody);
  return {
    of: pilots ? readAnew(reader, columns).of : (table) => told.batches(table, namesOf(table)),
    ofSession: (table, { row: { id } }) => told.only(({ row }) => row.id === id).batches(table, namesOf(table)),
    exclusions: { ...used, counts },
    done,
  };
}

/** The same read from the records. */
const readAnew = (reader: DataReader, leftOut: WorkedOut = new Map()): FlatRows => ({
  of: (table) => readNow(reader, table, leftOut),
  ofSession: (table, { row: { id } }) =>
    readNow(
      reader.only(({ row }) => row.id === id),
      table,
      leftOut,
    ),
  done: () => Promise.resolve(),
});

async function* readNow(reader: DataReader, table: TidyTableName, leftOut: WorkedOut): AsyncGenerator<Cell[][]> {
  const columns = tidyTables[table].columns(reader.documents) as readonly DataColumn<unknown>[];
  const workedOut = columns.map(({ name }) => leftOut.get(`${table} ${name}`));
  let [session, row] = ["", -1];
  const rows = (sources: readonly unknown[], of: (source: never) => string) =>
    sources.map((source) => {
      row = session === of(source as never) ? row + 1 : 0;
      session = of(source as never);
      return rowOf(columns, source).map((cell, at) => {
        const known = workedOut[at]?.get(session);
        return known ? cellAt(known, row) : cell;
      });
    });
  // A session may have more trials than fit into memory with all that belongs to them.
  if (table === "trials")
    for await (const sources of reader.trials()) yield rows(sources, ({ facts }: TrialSource) => facts.session);
  else if (table === "sessions")
    for await (const sources of sessionsOf(reader)) yield rows(sources, (source: SessionSource) => source.session);
  else
    for (const sitting of reader.sittings) {
      const inFull = (await reader.inFull([sitting])).get(sitting.row.id);
      if (inFull) yield rows(tidyTables[table].rows(await wholeSession(reader, sitting, inFull)), () => sitting.row.id);
      await otherTurns();
    }
}

async function* filesOf(
  store: Store,
  study: Study,
  { format, codes = false, design = false, ...which }: ExportChoice,
  taken: ((sitting: Sitting) => boolean) | null = null,
): AsyncGenerator<FileInZip> {
  const whole = await DataReader.open(store, study, which);
  const { pilots } = which;
  // What is computed of sessions compares them; of one participant, or with rehearsals, there is only what was recorded.
  const reader = taken === null ? (pilots ? whole.asRecorded() : whole) : whole.only(taken).asRecorded();
  const named = (table: string) => `${table}.${format.extension}`;
  const columns = trialColumns(reader.documents);
  const ofSessions = tableColumns("sessions", reader);
  const asks = reader.documents.some((document) => questionsInOrder(document).length > 0);
  const follows = reader.documents.some(hasFollowing);
  const ids = new Set(reader.sittings.map(({ row }) => row.id));
  const aside = (await sessionsWithAside(store, study, pilots)).filter((id) => ids.has(id));
  const asides = async function* () {
    for (const session of aside) yield await keptAsideOf(store, study, { session, pilots });
  };
  const tables: DescribedTable[] = [
    { name: "trials", one: "a trial", columns },
    { name: "sessions", one: "a session", columns: ofSessions },
    ...(asks
      ? [{ name: "answers", one: "a question that a participant could be asked", columns: answerTableColumns }]
      : []),
    ...(follows
      ? [
          {
            name: "thresholds",
            one: "a value that followed the answers, in one attempt at its block; its trials stand in the trials table",
            columns: thresholdColumns,
          },
        ]
      : []),
    {
      name: "events",
      one:
        "for everything that happened in a session (scenes, answers, trials broken off, and what the window, the network " +
        "and the keys did)",
      columns: eventColumns(reader.documents),
    },
    ...(codes
      ? [{ name: "codes", one: "a session, with what tells whose it is: to be kept apart", columns: codeColumns }]
      : []),
    ...(aside.length > 0
      ? [
          {
            name: "kept-aside",
            one: "for every record that came under a number taken by another",
            columns: keptAsideColumns,
          },
        ]
      : []),
  ];
  // Of one participant everything is read anew.
  const rows = await (taken === null ? flatRows(store, study, reader, which) : readAnew(reader));
  try {
    yield { name: named("codebook"), pieces: written(format, codebookColumns, () => [codebookLines(tables)]) };
    yield { name: "codebook.md", pieces: [codebookMarkdown(tables, study.document.title, study.code, format)] };
    const described = inJson(dataPackage({ title: study.document.title, code: study.code }, tables, format));
    yield { name: "datapackage.json", pieces: [described] };
    if (format === csv || format === tsv) {
      yield { name: "read.R", pieces: [readInR(tables, format)] };
      yield { name: "read.py", pieces: [readInPython(tables, format)] };
    }
    if (rows.exclusions) {
      const { title } = study.document;
      const document = design ? (reader.documents[0] ?? null) : null;
      yield { name: "method.md", pieces: [methodMarkdown({ title, code: study.code, document }, rows.exclusions)] };
    }
    if (design)
      for (const { id, number, document } of reader.releases)
        if (id !== "") {
          yield { name: `design/release-${number}.lapwing.json`, pieces: [await frozenText(store.db, id)] };
          yield { name: `design/release-${number}.svg`, pieces: [designPicture(document)] };
        }
    yield { name: named("sessions"), pieces: writtenRows(format, ofSessions, () => rows.of("sessions")) };
    if (codes) yield { name: named("codes"), pieces: written(format, codeColumns, () => codesIn(store, reader)) };
    if (asks)
      yield { name: named("answers"), pieces: writtenRows(format, answerTableColumns, () => rows.of("answers")) };
    if (follows)
      yield { name: named("thresholds"), pieces: written(format, thresholdColumns, () => thresholdsOf(reader)) };
    if (aside.length > 0) yield { name: named("kept-aside"), pieces: written(format, keptAsideColumns, asides) };
    yield {
      name: named("events"),
      pieces: writtenRows(format, eventColumns(reader.documents), () => rows.of("events")),
    };
    yield { name: named("trials"), pieces: writtenRows(format, columns, () => rows.of("trials")) };
  } finally {
    await rows.done();
  }
}

async function* sessionsOf(reader: DataReader): AsyncGenerator<SessionSource[]> {
  for await (const together of reader.pages()) {
    const inFull = await reader.inFull(together.map(({ sitting }) => sitting));
    yield together.flatMap(({ sitting, records, last }) => {
      const row = inFull.get(sitting.row.id);
      // Whoever was deleted meanwhile is not there.
      return row ? [sessionSource(sitting, row, { records, last })] : [];
    });
  }
}

async function* codesIn({ db }: Store, reader: DataReader): AsyncGenerator<CodeSource[]> {
  for (let from = 0; from < reader.sittings.length; from += codesAtOnce) {
    const together = reader.sittings.slice(from, from + codesAtOnce);
    const ids = together.map(({ row }) => row.id);
    const codes = await codesOfAll(db, ids);
    yield together.map(({ row }) => ({
      session: row.id,
      participant: row.participant,
      sitting: row.sitting,
      pilot: row.pilot === 1,
      participantCode: codes.get(row.id)?.participant ?? null,
      completionCode: row.state === "finished" ? (codes.get(row.id)?.completion ?? "") : "",
      cameWith: asJson(codes.get(row.id)?.cameWith ?? {}),
    }));
    await otherTurns();
  }
}
const codesAtOnce = 500;
const asJson = (named: Record<string, string>) => (Object.keys(named).length === 0 ? "" : JSON.stringify(named));
const inJson = (described: object) => `${JSON.stringify(described, null, 1)}\n`;

async function* thresholdsOf(reader: DataReader): AsyncGenerator<ThresholdSource[]> {
  for await (const tracks of reader.tracks()) yield tracks.map(thresholdSource);
}
