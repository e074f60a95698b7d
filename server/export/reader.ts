import { allRules } from "../../core/design/all-rules";
import type { StudyDocument } from "../../core/design/document";
import { questionsInOrder } from "../../core/design/questions";
import type { SessionFacts, TrialSource } from "../../core/export/tables/trial-source";
import { tracksOf, type Track } from "../../core/export/tables/thresholds";
import { hasFollowing } from "../../core/design/lookup";
import { attemptCounter, trialSource } from "../../core/export/tables/trials";
import type { LogChunk, LogEntry } from "../../core/records/log";
import type { BrokenOffRecord, SessionRecord, TrialRecord } from "../../core/records/record";
import { presentRecord } from "../../core/records/stored";
import type { Orders } from "../../core/order/parts";
import { codesOf, type Codes } from "../codes";
import type { Store } from "../database/open";
import type { Tables } from "../database/tables";
import { frozenDocument } from "../frozen-documents";
import { beginningOf } from "../session-of-secret";
import { personsKept, type PersonsKept } from "../persons";
import type { Study } from "../studies";
import { wavesOf } from "../waves";
import type { Selectable } from "kysely";

/** So many records are read in one batch, and so many characters of them; other requests run in between. */
const [batch, batchCharacters] = [500, 8e6];
/** How many records of a session are read at once. */
const atOnce = ({ records, stored_characters }: Sitting["row"]): number =>
  Math.max(1, Math.min(batch, Math.floor(batchCharacters / Math.max(1, stored_characters / Math.max(1, records)))));

export type Release = { id: string; number: number; document: StudyDocument };
export type SessionInFull = Selectable<Tables["session"]>;
/** Of every session only this is read: there may be many. */
const columns = [
  ...(["id", "release_id", "wave_id", "participant", "entered", "group_id", "orders", "sitting", "pilot"] as const),
  ...(["given", "rehearsal", "device", "state", "excluded_at", "excluded_because", "removed_at"] as const),
  ...(["seen_at", "computer_id", "computer_name"] as const),
  ...(["records", "trials", "stored_characters"] as const),
];

/** A session whose data are read, with the release it was played on. */
export type Sitting = {
  facts: SessionFacts;
  release: Release;
  row: Pick<SessionInFull, (typeof columns)[number]>;
  /** Name of the laboratory's computer on which it was begun; empty for any other. */
  computer: string;
};

/** Which sessions: with rehearsals or without, of all waves (null) or one. */
export type Taken = { pilots: boolean; wave?: string | null };

/** Yields to other requests. */
export const otherTurns = () => new Promise<void>((resolve) => setImmediate(resolve));

/**
 * Reads the data of a study: its sessions as they stand when this is made, and their records as they are asked for, a
 * batch at a time, so that memory stays the same however many there are.
 */
export class DataReader {
  private constructor(
    private readonly store: Store,
    readonly study: Study,
    /** Releases with sessions, newest first; the draft where nothing was collected yet. */
    readonly releases: readonly Release[],
    /** Participants by number, rehearsals last. */
    readonly sittings: readonly Sitting[],
    /** Scores over trials, and the norms against which scores are read. */
    readonly persons: PersonsKept,
  ) {}

  static async open(store: Store, study: Study, { pilots, wave = null }: Taken): Promise<DataReader> {
    const { db } = store;
    const rows = await db
      .selectFrom("session")
      .select(columns)
      .where("study_id", "=", study.id)
      .orderBy("pilot")
      .orderBy("participant")
      .orderBy("sitting")
      .orderBy("repeat")
      .orderBy("id")
      .execute();
    const numbered = await db
      .selectFrom("release")
      .select(["id", "number"])
      .where("study_id", "=", study.id)
      .orderBy("frozen_at", "desc")
      .execute();
    // What only rehearsals have changes nothing in the data of participants.
    const played = new Set(rows.flatMap(({ pilot, release_id }) => (pilot === 0 || pilots ? [release_id] : [])));
    const releases: Release[] = [];
    for (const { id, number } of numbered)
      if (played.has(id)) releases.push({ id, number: number ?? 0, document: await frozenDocument(db, id) });
    const names = new Map((await wavesOf(db, study.id)).map(({ id, plan }) => [id, plan.name]));
    const computers = new Map(
      (await db.selectFrom("lab_computer").select(["id", "name"]).execute()).map(({ id, name }) => [id, name]),
    );
    const computerOf = (id: string | null) => (id === null ? "" : (computers.get(id) ?? "a computer that is gone"));
    const byId = new Map(releases.map((release) => [release.id, release]));
    const sittings = rows
      .filter(({ pilot, wave_id }) => (pilot === 1 ? pilots : wave === null || wave_id === wave))
      .flatMap((row): Sitting[] => {
        const release = byId.get(row.release_id);
        if (!release) return [];
        const facts = factsOf(study, release, row, names.get(row.wave_id ?? "") ?? "");
        return [{ row, release, facts, computer: row.computer_name ?? computerOf(row.computer_id) }];
      });
    const draft = { id: "", number: 0, document: study.document };
    return new DataReader(
      store,
      study,
      releases.length > 0 ? releases : [draft],
      sittings,
      await personsKept(db, study.id),
    );
  }

  /** All that is known of these sessions themselves, by their names. */
  async inFull(sittings: readonly Sitting[]): Promise<ReadonlyMap<string, SessionInFull>> {
    const ids = sittings.map(({ row }) => row.id);
    const found = new Map<string, SessionInFull>();
    for (let from = 0; from < ids.length; from += batch) {
      const rows = await this.store.db
        .selectFrom("session")
        .selectAll()
        .where("id", "in", ids.slice(from, from + batch))
        .execute();
      for (const row of rows) found.set(row.id, row);
    }
    return found;
  }

  /** The same data, of some of the sessions only. */
  only(taken: (sitting: Sitting) => boolean): DataReader {
    return new DataReader(this.store, this.study, this.releases, this.sittings.filter(taken), this.persons);
  }

  /** The same data, without what is computed of them. */
  asRecorded(): DataReader {
    return new DataReader(this.store, this.study, this.releases, this.sittings, { scores: [], norms: [] });
  }

  get documents(): StudyDocument[] {
    return this.releases.map(({ document }) => document);
  }

  /** The trials of these sittings, in their order, each with what belongs to it. */
  async *trials(sittings: readonly Sitting[] = this.sittings): AsyncGenerator<TrialSource[]> {
    for (const together of inBatches(sittings)) {
      const counters = new Map(together.map(({ facts }) => [facts.session, attemptCounter()]));
      for (let after = 0; ;) {
        const ids = together.map(({ facts }) => facts.session);
        let query = this.store.db
          .selectFrom("record")
          .select(["session_id", "number", "body"])
          .where("session_id", "in", ids)
          .where("number", ">", after)
          .where("kind", "in", ["trial", "broken-off"])
          .orderBy("session_id")
          .orderBy("number");
        // Several sessions fit into a batch together; one alone may be longer and is read piece by piece.
        const isAlone = together.length === 1;
        const most = together[0] ? atOnce(together[0].row) : batch;
        if (isAlone) query = query.limit(most);
        const rows = await query.execute();
        const bodies = new Map(ids.map((id): [string, string[]] => [id, []]));
        for (const { session_id, body } of rows) bodies.get(session_id)?.push(body);
        const trials = together.flatMap(({ facts, release: { document } }) =>
          (bodies.get(facts.session) ?? []).flatMap((body) => {
            const record = presentRecord(JSON.parse(body), document) as TrialRecord | BrokenOffRecord;
            const attempt = counters.get(facts.session)?.(record) ?? 1;
            return record.kind === "trial" ? [trialSource(document, facts, record, attempt)] : [];
          }),
        );
        if (trials.length > 0) yield trials;
        await otherTurns();
        const last = rows.at(-1);
        if (!isAlone || !last || rows.length < most) break;
        after = last.number;
      }
    }
  }

  /** The values that followed the answers, session by session. */
  async *tracks(sittings: readonly Sitting[] = this.sittings): AsyncGenerator<Track[]> {
    const following = sittings.filter(({ release }) => hasFollowing(release.document));
    let session = "";
    let sources: TrialSource[] = [];
    for await (const batch of this.trials(following))
      for (const source of batch) {
        if (source.facts.session !== session && sources.length > 0) {
          yield tracksOf(sources);
          sources = [];
          await otherTurns();
        }
        session = source.facts.session;
        sources.push(source);
      }
    if (sources.length > 0) yield tracksOf(sources);
  }

  /** The page records of these sittings, which hold what was answered, some sittings at a time; every sitting comes. */
  async *pages(
    sittings: readonly Sitting[] = this.sittings,
  ): AsyncGenerator<{ sitting: Sitting; records: SessionRecord[]; last: SessionRecord | null }[]> {
    const asks = new Set(
      this.releases.flatMap(({ id, document }) => (questionsInOrder(document).length > 0 ? [id] : [])),
    );
    const tells = new Set(this.releases.flatMap(({ id, document }) => (hasVariables(document) ? [id] : [])));
    for (const together of inBatches(sittings)) {
      const ids = together.filter(({ release }) => asks.has(release.id)).map(({ facts }) => facts.session);
      const rows =
        ids.length === 0
          ? []
          : await this.store.db
              .selectFrom("record")
              .select(["session_id", "body"])
              .where("session_id", "in", ids)
              .where("kind", "=", "page")
              .orderBy("session_id")
              .orderBy("number")
              .execute();
      const bodies = new Map<string, string[]>();
      for (const { session_id, body } of rows) bodies.set(session_id, [...(bodies.get(session_id) ?? []), body]);
      const last = await this.#lastOf(together.filter(({ release }) => tells.has(release.id)));
      yield together.map((sitting) => ({
        sitting,
        last: last.get(sitting.facts.session) ?? null,
        records: (bodies.get(sitting.facts.session) ?? []).map((body) =>
          presentRecord(JSON.parse(body), sitting.release.document),
        ),
      }));
      await otherTurns();
    }
  }

  /** The last record of each of these sittings, which tells what variables held. */
  async #lastOf(sittings: readonly Sitting[]): Promise<Map<string, SessionRecord>> {
    const ids = sittings.map(({ facts }) => facts.session);
    if (ids.length === 0) return new Map();
    const rows = await this.store.db
      .selectFrom("record")
      .innerJoin("session", "session.id", "record.session_id")
      .select(["record.session_id", "record.body"])
      .where("record.session_id", "in", ids)
      .whereRef("record.number", "=", "session.records")
      .execute();
    return new Map(rows.map(({ session_id, body }) => [session_id, JSON.parse(body) as SessionRecord]));
  }

  /** All records of a sitting by their numbers, and what was logged beside them. */
  async recordsAndLog({ facts, release }: Sitting): Promise<{ records: SessionRecord[]; log: LogChunk[] }> {
    const records = await this.store.db
      .selectFrom("record")
      .select("body")
      .where("session_id", "=", facts.session)
      .orderBy("number")
      .execute();
    const log = await this.store.db
      .selectFrom("session_log")
      .select(["opening", "number", "entries"])
      .where("session_id", "=", facts.session)
      .orderBy("opening")
      .orderBy("number")
      .execute();
    return {
      records: records.map(({ body }) => presentRecord(JSON.parse(body), release.document)),
      log: log.map((chunk) => ({ ...chunk, entries: JSON.parse(chunk.entries) as LogEntry[] })),
    };
  }

  /** What was logged beside the records of some sittings, a batch at a time. */
  async *logs(sittings: readonly Sitting[]): AsyncGenerator<LogEntry[]> {
    for (let from = 0; from < sittings.length; from += logsAtOnce) {
      const ids = sittings.slice(from, from + logsAtOnce).map(({ row: { id } }) => id);
      const chunks = await this.store.db
        .selectFrom("session_log")
        .select("entries")
        .where("session_id", "in", ids)
        .execute();
      yield chunks.flatMap(({ entries }) => JSON.parse(entries) as LogEntry[]);
    }
  }

  /** The same with its codes, and what the team noted. */
  async everythingOf(sitting: Sitting): Promise<{
    records: SessionRecord[];
    log: LogChunk[];
    codes: Codes;
    notes: { at: string; text: string }[];
  }> {
    const notes = await this.store.db
      .selectFrom("session_note")
      .select(["at", "text"])
      .where("session_id", "=", sitting.facts.session)
      .orderBy("at")
      .execute();
    return {
      codes: await codesOf(this.store.db, sitting.facts.session),
      notes,
      ...(await this.recordsAndLog(sitting)),
    };
  }
}

const logsAtOnce = 100;

const hasVariables = (document: StudyDocument): boolean =>
  document.variables.length > 0 || allRules(document).length > 0;

/** What every table tells of a session. */
export const factsOf = (
  study: Pick<Study, "code">,
  release: Release,
  row: Sitting["row"],
  wave: string,
): SessionFacts => ({
  study: study.code,
  release: release.number,
  wave,
  session: row.id,
  participant: row.participant,
  sitting: row.sitting,
  ...(row.entered > 0 ? { entered: row.entered } : {}),
  begins: beginningOf(row),
  group: row.group_id,
  orders: JSON.parse(row.orders) as Orders,
  pilot: row.pilot === 1,
  state: row.state,
  isExcluded: row.excluded_at !== null,
});

/** Sittings one after the other, as many together as are at most a batch; a longer one alone. */
function inBatches(sittings: readonly Sitting[]): Sitting[][] {
  const batches: Sitting[][] = [];
  const room = { records: 0, characters: 0 };
  for (const each of sittings) {
    const there = batches.at(-1);
    const { records, stored_characters: characters } = each.row;
    if (there && there.length < batch && records <= room.records && characters <= room.characters) there.push(each);
    else {
      batches.push([each]);
      [room.records, room.characters] = [batch, batchCharacters];
    }
    room.records -= records;
    room.characters -= characters;
  }
  return batches;
}
