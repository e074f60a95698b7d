import { strToU8, Zip, ZipDeflate } from "fflate";
import { trialColumns, trialRow, type ExportColumn, type SessionFacts } from "../core/export/columns";
import { codebookCsv, codebookMarkdown } from "../core/export/codebook";
import { csvLine, csvStart, type CsvOptions } from "../core/export/csv";
import { eventRows, eventsHeader } from "../core/export/events";
import { storedDocument } from "../core/design/parse";
import type { StudyDocument } from "../core/design/types";
import type { LogEntry } from "../core/run/log";
import type { TrialRecord } from "../core/run/records";
import { clockStepMs } from "../core/timing/verdict";
import { presentRecord } from "../core/run/stored-records";
import { partsFor, type Orders } from "../core/order/parts";
import type { Store } from "./database/open";
import { keptAsideCsv } from "./kept-aside";
import { displayIn } from "./record-shape";
import { seedOf } from "./sessions";
import type { Study } from "./studies";

export type ExportChoice = CsvOptions & { pilots: boolean };
/** Trials read and written at a time: other requests get their turn in between. */
const batch = 500;

type Released = { id: string; number: number; document: StudyDocument };
type SessionFact = SessionFacts & { releaseId: string; trials: number };

async function releasesWithData({ db }: Store, study: Study): Promise<Released[]> {
  const rows = await db
    .selectFrom("release")
    .select(["id", "number", "document"])
    .where("study_id", "=", study.id)
    .where((eb) =>
      eb.exists(eb.selectFrom("session").select("session.id").whereRef("session.release_id", "=", "release.id")),
    )
    .orderBy("frozen_at", "desc")
    .execute();
  const read = rows.map(({ id, number, document }) => ({
    id,
    number: number ?? 0,
    document: storedDocument(document),
  }));
  return read.length > 0 ? read : [{ id: "", number: 0, document: study.document }];
}

/** Sessions in the order in which they are exported: participants by number, pilots last. */
async function sessionFacts(
  { db }: Store,
  study: Study,
  pilots: boolean,
  numbers: Map<string, number>,
): Promise<SessionFact[]> {
  let query = db
    .selectFrom("session")
    .select(["id", "release_id", "participant", "group_id", "pilot", "trials"])
    .where("study_id", "=", study.id);
  if (!pilots) query = query.where("pilot", "=", 0);
  const rows = await query.orderBy("pilot").orderBy("participant").orderBy("id").execute();
  return rows.map((row) => ({
    study: study.code,
    release: numbers.get(row.release_id) ?? 0,
    wave: "",
    session: row.id,
    participant: row.participant,
    group: row.group_id,
    pilot: row.pilot === 1,
    releaseId: row.release_id,
    trials: row.trials,
  }));
}

/** The sessions of a study in the order in which they are exported, each with the number of its trials. */
export const trialCounts = (
  store: Store,
  study: Study,
  pilots: boolean,
): Promise<{ session: string; trials: number }[]> => sessionFacts(store, study, pilots, new Map());

/** The trials of a study, a batch at a time, each with what belongs to it. Memory stays the same however many there are. */
export async function* trialsOf(
  store: Store,
  study: Study,
  pilots: boolean,
  wanted: (session: SessionFact) => boolean = () => true,
): AsyncGenerator<{ facts: SessionFacts; document: StudyDocument; record: TrialRecord }[]> {
  const releases = new Map((await releasesWithData(store, study)).map((release) => [release.id, release]));
  const numbers = new Map([...releases].map(([id, { number }]) => [id, number]));
  const facts = await sessionFacts(store, study, pilots, numbers);
  for (const sitting of inBatches(facts.filter(wanted)))
    for (let after = 0; ;) {
      const ids = sitting.map(({ session }) => session);
      let query = store.db
        .selectFrom("record")
        .select(["session_id", "number", "body"])
        .where("session_id", "in", ids)
        .where("number", ">", after)
        .where("kind", "=", "trial")
        .orderBy("session_id")
        .orderBy("number");
      // Several sessions fit into a batch together; one alone may be longer and is read piece by piece.
      const isAlone = sitting.length === 1;
      if (isAlone) query = query.limit(batch);
      const rows = await query.execute();
      const bySession = new Map(ids.map((id): [string, string[]] => [id, []]));
      for (const { session_id, body } of rows) bySession.get(session_id)?.push(body);
      const trials = sitting.flatMap((each) => {
        const document = releases.get(each.releaseId)?.document ?? study.document;
        const bodies = bySession.get(each.session) ?? [];
        return bodies.map((body) => ({
          facts: each,
          document,
          record: presentRecord(JSON.parse(body), document) as TrialRecord,
        }));
      });
      if (trials.length > 0) yield trials;
      const last = rows.at(-1);
      if (!isAlone || !last || rows.length < batch) break;
      after = last.number;
    }
}

/** Sessions one after the other, as many together as have at most a batch of trials; a longer one alone. */
function inBatches(facts: SessionFact[]): SessionFact[][] {
  const batches: SessionFact[][] = [];
  let room = 0;
  for (const each of facts) {
    const there = batches.at(-1);
    if (there && each.trials <= room) there.push(each);
    else {
      batches.push([each]);
      room = batch;
    }
    room -= each.trials;
  }
  return batches;
}

/** `trials.csv` as it is written, piece by piece. */
export async function* trialsCsv(store: Store, study: Study, choice: ExportChoice): AsyncGenerator<string> {
  const columns = await columnsOf(store, study);
  yield csvStart(
    columns.map(({ name }) => name),
    choice,
  );
  for await (const trials of trialsOf(store, study, choice.pilots)) {
    yield trials
      .map(({ facts, document, record }) => csvLine(trialRow(columns, document, facts, record), choice))
      .join("");
    await new Promise<void>((resolve) => setImmediate(resolve));
  }
}

export async function columnsOf(store: Store, study: Study): Promise<ExportColumn[]> {
  return trialColumns((await releasesWithData(store, study)).map(({ document }) => document));
}

/** The names of a session's parts in the order it had them. */
function orderOfParts(document: StudyDocument, row: { participant: number; group_id: string; orders: string }): string {
  return partsFor(document, row.group_id, JSON.parse(row.orders) as Orders, row.participant)
    .map(({ part }) => document.parts[part]?.name ?? part)
    .join(" > ");
}

async function sessionsCsv(store: Store, study: Study, choice: ExportChoice): Promise<string> {
  const releases = new Map((await releasesWithData(store, study)).map((release) => [release.id, release]));
  let query = store.db.selectFrom("session").selectAll().where("study_id", "=", study.id);
  if (!choice.pilots) query = query.where("pilot", "=", 0);
  const rows = await query.orderBy("pilot").orderBy("participant").orderBy("id").execute();
  const header = [
    "study",
    "release",
    "session",
    "participant",
    "group",
    "seed",
    "state",
    "trials",
    "trials_planned",
    "started_at",
    "last_seen_at",
    "finished_at",
    "completion_code",
    "browser",
    "pilot",
    "sitting",
    "participant_code",
    "stratum",
    "order_of_parts",
    "counts",
    "refresh_hz",
    "refresh_kind",
    "window_width_px",
    "window_height_px",
    "pixel_ratio",
    "clock_step_ms",
    "sound_latency_ms",
    "records_removed_at",
  ];
  const lines = rows.map((row) => {
    const release = releases.get(row.release_id);
    const display = displayIn(row.display);
    const group = release?.document.groups.find(({ id }) => id === row.group_id)?.name ?? row.group_id;
    return csvLine(
      [
        study.code,
        release?.number ?? 0,
        row.id,
        row.participant,
        group,
        release ? seedOf(release.document, row.sitting) : "",
        row.state === "active" ? "not finished" : row.state,
        row.trials,
        row.trials_planned,
        row.started_at,
        row.seen_at,
        row.finished_at,
        row.state === "finished" ? row.code : "",
        row.browser,
        row.pilot === 1 ? "yes" : "no",
        row.sitting,
        row.participant_code,
        row.stratum,
        release ? orderOfParts(release.document, row) : "",
        row.excluded_at === null ? "yes" : "no",
        display && Math.round(100_000 / display.refreshMs) / 100,
        display && (display.variable ? "variable" : "fixed"),
        display && display.width,
        display && display.height,
        display && display.pixelRatio,
        display && clockStepMs(display),
        display?.soundLatencyMs ?? null,
        row.removed_at,
      ],
      choice,
    );
  });
  return csvStart(header, choice) + lines.join("");
}

/** `events.csv`: scenes, answers and what was logged beside the records, session by session in order of time. */
async function* eventsCsv(store: Store, study: Study, choice: ExportChoice): AsyncGenerator<string> {
  const releases = new Map((await releasesWithData(store, study)).map((release) => [release.id, release.document]));
  yield csvStart(eventsHeader, choice);
  for (const facts of await sessionFacts(store, study, choice.pilots, new Map())) {
    const document = releases.get(facts.releaseId) ?? study.document;
    const records = await store.db
      .selectFrom("record")
      .select("body")
      .where("session_id", "=", facts.session)
      .orderBy("number")
      .execute();
    const log = await store.db
      .selectFrom("session_log")
      .select(["opening", "number", "entries"])
      .where("session_id", "=", facts.session)
      .execute();
    const rows = eventRows(
      facts,
      document,
      records.map(({ body }) => presentRecord(JSON.parse(body), document)),
      log.map((chunk) => ({ ...chunk, entries: JSON.parse(chunk.entries) as LogEntry[] })),
    );
    yield rows.map((row) => csvLine(row, choice)).join("");
    await new Promise<void>((resolve) => setImmediate(resolve));
  }
}

/** Trials, events, sessions, codebook and, where there are any, records kept aside in one zip, made while it is sent: a slow reader slows the making, not the server. */
export function dataZip(store: Store, study: Study, choice: ExportChoice): ReadableStream<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, chunk) => {
    if (error) failed = error;
    else chunks.push(chunk);
  });
  const making = (async function* () {
    const file = (name: string) => {
      const entry = new ZipDeflate(name, { level: 3 });
      zip.add(entry);
      return entry;
    };
    const whole = (name: string, text: string) => file(name).push(strToU8(text), true);
    const columns = await columnsOf(store, study);
    whole("codebook.csv", codebookCsv(columns, choice));
    whole("codebook.md", codebookMarkdown(columns, study.document.title, study.code));
    whole("sessions.csv", await sessionsCsv(store, study, choice));
    const aside = await keptAsideCsv(store, study, choice);
    if (aside !== null) whole("kept-aside.csv", aside);
    const events = file("events.csv");
    for await (const piece of eventsCsv(store, study, choice)) {
      events.push(strToU8(piece), false);
      yield;
    }
    events.push(new Uint8Array(), true);
    const trials = file("trials.csv");
    for await (const piece of trialsCsv(store, study, choice)) {
      trials.push(strToU8(piece), false);
      yield;
    }
    trials.push(new Uint8Array(), true);
    zip.end();
  })();
  return new ReadableStream<Uint8Array>({
    async pull(controller) {
      while (chunks.length === 0) {
        const { done } = await making.next();
        if (failed) throw failed;
        if (done) break;
      }
      if (chunks.length === 0) return controller.close();
      for (const chunk of chunks.splice(0)) controller.enqueue(chunk);
    },
    async cancel() {
      await making.return();
    },
  });
}
