import { storedDocument } from "../core/design/parse";
import type { Transaction } from "kysely";
import { groupForStart, plannedGroup } from "../core/allocate/groups";
import { compile } from "../core/compile/compile";
import type { Id, StudyDocument } from "../core/design/types";
import type { SessionData } from "../core/run/session-data";
import { newCompletionCode, newId, newSecret, secretHash } from "./chance";
import { presentRecord } from "../core/run/stored-records";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { rehearsalRelease } from "./releases";
import type { Study } from "./studies";

/** A session whose last sign of life is older than this no longer holds a place in its group. */
const minutesUntilBrokenOff = 60;

export type Started = { ok: true; session: SessionData } | { ok: false; reason: string };

export async function linkExists(
  { db }: Store,
  token: string,
): Promise<{ title: string; language: string; stageColor: string; textColor: string } | null> {
  const found = await db
    .selectFrom("entry_link")
    .innerJoin("release", "release.id", "entry_link.release_id")
    .innerJoin("study", "study.id", "release.study_id")
    .select("release.document")
    .where("entry_link.token", "=", token)
    .where("entry_link.open", "=", 1)
    .where("study.binned_at", "is", null)
    .executeTakeFirst();
  if (!found) return null;
  const { title, language, settings } = storedDocument(found.document);
  return { title, language, stageColor: settings.stageColor, textColor: settings.textColor };
}

/** What a player makes up as its session's secret: 192 random bits. */
export const secretShape = /^[\w-]{32}$/;

/**
 * Starts a session on an entry link: number and group are given out in one transaction, so that starts at once stay
 * balanced. The secret is the player's own; the same one again (an answer that got lost) gives the session it has started.
 */
export async function startSession(store: Store, token: string, secret: string, browser: string): Promise<Started> {
  if (!secretShape.test(secret)) return { ok: false, reason: "The session's secret should be 32 letters and digits." };
  const made = await store.db.transaction().execute(async (trx): Promise<Started | null> => {
    const there = await trx
      .selectFrom("session")
      .select("id")
      .where("token_hash", "=", secretHash(secret))
      .executeTakeFirst();
    if (there) return null;
    const release = await trx
      .selectFrom("entry_link")
      .innerJoin("release", "release.id", "entry_link.release_id")
      .innerJoin("study", "study.id", "release.study_id")
      .select(["release.id", "release.study_id", "release.document"])
      .where("entry_link.token", "=", token)
      .where("entry_link.open", "=", 1)
      .where("study.binned_at", "is", null)
      .executeTakeFirst();
    if (!release) return { ok: false, reason: "This link is not open. Ask the researcher for the right one." };
    const document = storedDocument(release.document);
    const last = await trx
      .selectFrom("session")
      .select(({ fn }) => fn.max("participant").as("number"))
      .where("study_id", "=", release.study_id)
      .where("pilot", "=", 0)
      .executeTakeFirst();
    const participant = (last?.number ?? 0) + 1;
    const stillThere = new Date(Date.now() - minutesUntilBrokenOff * 60_000).toISOString();
    const counts = await trx
      .selectFrom("session")
      .select(({ fn }) => ["group_id", fn.countAll<number>().as("count")])
      .where("study_id", "=", release.study_id)
      .where("pilot", "=", 0)
      .where((eb) => eb.or([eb("state", "=", "finished"), eb("seen_at", ">", stillThere)]))
      .groupBy("group_id")
      .execute();
    const group = groupForStart(document, participant, new Map(counts.map(({ group_id, count }) => [group_id, count])));
    return {
      ok: true,
      session: await insertSession(trx, secret, {
        studyId: release.study_id,
        releaseId: release.id,
        link: token,
        document,
        participant,
        group,
        pilot: false,
        browser,
      }),
    };
  });
  if (made) return made;
  const session = await resumeSession(store, secret);
  return session ? { ok: true, session } : { ok: false, reason: "This session cannot be found. Open the link again." };
}

/** Starts a rehearsal of the study as it is saved, as a chosen participant. Its data are pilot data. */
export async function startRehearsal(
  store: Store,
  study: Study,
  participant: number,
  browser: string,
): Promise<{ secret: string; session: SessionData }> {
  const releaseId = await rehearsalRelease(store, study);
  const group = plannedGroup(study.document, participant);
  const secret = newSecret();
  const session = await store.db.transaction().execute((trx) =>
    insertSession(trx, secret, {
      studyId: study.id,
      releaseId,
      link: null,
      document: study.document,
      participant,
      group,
      pilot: true,
      browser,
    }),
  );
  return { secret, session };
}

type NewSession = {
  studyId: string;
  releaseId: string;
  link: string | null;
  document: StudyDocument;
  participant: number;
  group: Id;
  pilot: boolean;
  browser: string;
};

async function insertSession(trx: Transaction<Tables>, secret: string, fresh: NewSession): Promise<SessionData> {
  const { document, participant, group, pilot } = fresh;
  const [id, at] = [newId("s"), new Date().toISOString()];
  const { seed } = document.settings;
  const { trialCount, parts } = compile(document, participant, seed, group);
  await trx
    .insertInto("session")
    .values({
      id,
      study_id: fresh.studyId,
      release_id: fresh.releaseId,
      link_token: fresh.link,
      token_hash: secretHash(secret),
      participant,
      group_id: group,
      pilot: pilot ? 1 : 0,
      state: "active",
      records: 0,
      trials: 0,
      trials_planned: trialCount,
      part: parts[0]?.part ?? null,
      code: newCompletionCode(),
      started_at: at,
      seen_at: at,
      finished_at: null,
      browser: fresh.browser.slice(0, 300),
    })
    .execute();
  return {
    session: id,
    participant,
    group,
    seed,
    pilot,
    startedAt: at,
    document,
    records: [],
    finished: false,
    code: null,
  };
}

export type SessionRow = {
  id: string;
  studyId: string;
  document: StudyDocument;
  participant: number;
  group: Id;
  pilot: boolean;
  startedAt: string;
  finished: boolean;
  code: string;
};

/** The session a participant's secret opens; null for anything else. */
export async function sessionOfSecret({ db }: Store, secret: string): Promise<SessionRow | null> {
  const row = await db
    .selectFrom("session")
    .innerJoin("release", "release.id", "session.release_id")
    .selectAll("session")
    .select("release.document")
    .where("session.token_hash", "=", secretHash(secret))
    .executeTakeFirst();
  if (!row) return null;
  return {
    id: row.id,
    studyId: row.study_id,
    document: storedDocument(row.document),
    participant: row.participant,
    group: row.group_id,
    pilot: row.pilot === 1,
    startedAt: row.started_at,
    finished: row.state === "finished",
    code: row.code,
  };
}

/** A session with all its records, to go on after a reload. */
export async function resumeSession(store: Store, secret: string): Promise<SessionData | null> {
  const row = await sessionOfSecret(store, secret);
  if (!row) return null;
  const records = await store.db
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", row.id)
    .orderBy("number")
    .execute();
  return {
    session: row.id,
    participant: row.participant,
    group: row.group,
    seed: row.document.settings.seed,
    pilot: row.pilot,
    startedAt: row.startedAt,
    document: row.document,
    records: records.map(({ body }) => presentRecord(JSON.parse(body), row.document)),
    finished: row.finished,
    code: row.finished ? row.code : null,
  };
}

export type SessionLine = {
  id: string;
  participant: number;
  group: Id;
  pilot: boolean;
  state: "active" | "finished" | "broken off";
  trials: number;
  trialsPlanned: number;
  part: string | null;
  startedAt: string;
  seenAt: string;
  finishedAt: string | null;
  release: number | null;
  releaseId: string;
};

/** All sessions of a study, newest first. */
export async function listSessions({ db }: Store, studyId: string): Promise<SessionLine[]> {
  const rows = await db
    .selectFrom("session")
    .innerJoin("release", "release.id", "session.release_id")
    .selectAll("session")
    .select("release.number as release_number")
    .where("session.study_id", "=", studyId)
    .orderBy("session.started_at", "desc")
    .orderBy("session.participant", "desc")
    .execute();
  const stillThere = Date.now() - minutesUntilBrokenOff * 60_000;
  return rows.map((row) => ({
    id: row.id,
    participant: row.participant,
    group: row.group_id,
    pilot: row.pilot === 1,
    state: row.state === "finished" ? "finished" : Date.parse(row.seen_at) > stillThere ? "active" : "broken off",
    trials: row.trials,
    trialsPlanned: row.trials_planned,
    part: row.part,
    startedAt: row.started_at,
    seenAt: row.seen_at,
    finishedAt: row.finished_at,
    release: row.release_number,
    releaseId: row.release_id,
  }));
}
