import type { Transaction } from "kysely";
import { locked } from "./database/locked";
import type { Store } from "./database/open";
import type { SessionState, Tables } from "./database/tables";
import { displayIn } from "../core/records/log";
import { forgetLedger } from "./assignment";
import { asSent, mostChunksAtOnce, type Sent } from "./sent-records";
import { sessionOfHash, sessionOfSecret, type SessionRow } from "./sessions";

export type Appended =
  /** `acknowledged`: all records up to this number are stored for good. */
  | {
      ok: true;
      acknowledged: number;
      finished: boolean;
      code: string | null;
      keptAside: number[];
      /** The session continues on another computer. */
      superseded: boolean;
    }
  | { ok: false; reason: string };

/**
 * How much one session may store, in characters: no real player comes near it, but a hostile one could. What lies
 * beside the records has less room, so that it cannot crowd them out.
 */
const room = { beside: 64e6, all: 256e6 };

/**
 * Stores records of the session the secret opens, and says up to which number all are stored once they are on disk; what
 * other sessions send at the time shares the commit. The same record again is stored once; a different one under a used
 * number is kept aside and named in `keptAside`.
 */
export async function appendRecords(store: Store, secret: string, sent: unknown): Promise<Appended> {
  const session = await sessionOfSecret(store, secret);
  if (!session) return { ok: false, reason: "There is no such session." };
  return append(store, session, sent);
}

async function append(store: Store, session: SessionRow, sent: unknown): Promise<Appended> {
  const checked = asSent(sent, session);
  if (typeof checked === "string") return { ok: false, reason: checked };
  return store.write((trx) => storeIn(trx, session, checked));
}

/**
 * Takes in the answers of a file a participant saved because the server stayed away; with `studyId` only those of that
 * study. What is stored already stays as it is.
 */
export async function takeInSaved(store: Store, saved: unknown, studyId?: string): Promise<Appended> {
  const {
    session: id,
    records,
    log,
  } = (typeof saved === "object" && saved !== null ? saved : {}) as Record<string, unknown>;
  const found =
    typeof id === "string"
      ? await store.db.selectFrom("session").select(["token_hash", "study_id"]).where("id", "=", id).executeTakeFirst()
      : undefined;
  const isHere = found !== undefined && (studyId === undefined || found.study_id === studyId);
  const session = isHere ? await sessionOfHash(store, found.token_hash) : null;
  if (!session || !Array.isArray(records) || !Array.isArray(log))
    return {
      ok: false,
      reason: `This is no file of answers to this ${studyId === undefined ? "Lapwing" : "study"}. Choose one that a participant saved; its name ends in .lapwing-answers.json.`,
    };
  let last: Appended = { ok: false, reason: "The file holds nothing." };
  for (let from = 0; from === 0 || from < Math.max(records.length, log.length); from += mostChunksAtOnce) {
    const piece = {
      records: records.slice(from, from + mostChunksAtOnce),
      log: log.slice(from, from + mostChunksAtOnce),
    };
    const taken = await append(store, session, piece);
    if (!taken.ok) return taken;
    last = last.ok ? { ...taken, keptAside: [...last.keptAside, ...taken.keptAside] } : taken;
  }
  return last;
}

async function storeIn(trx: Transaction<Tables>, session: SessionRow, { records, log }: Sent): Promise<Appended> {
  const at = new Date().toISOString();
  const present = await locked(
    trx,
    trx
      .selectFrom("session")
      .select(["token_hash", "state", "records", "trials", "removed_at", "stored_characters"])
      .where("id", "=", session.id),
  ).executeTakeFirstOrThrow();
  const answer = (acknowledged: number, state: SessionState, keptAside: number[]): Appended => ({
    ok: true,
    acknowledged,
    finished: state !== "active",
    code: state === "finished" ? session.code : null,
    keptAside,
    superseded: session.superseded || present.token_hash !== session.tokenHash,
  });
  // The participant left and wanted nothing kept: a resend after a lost acknowledgement is not stored again.
  if (present.removed_at !== null)
    return answer(Math.max(present.records, ...records.map(({ number }) => number)), present.state, []);
  if (present.stored_characters > room.all)
    return { ok: false, reason: "This session has sent more than a session may. No more of it is accepted." };
  const bodies = new Map<number, string>();
  const keptAside: { number: number; body: string }[] = [];
  for (const record of records) {
    const body = JSON.stringify(record);
    const known = bodies.get(record.number);
    if (known === undefined) bodies.set(record.number, body);
    else if (known !== body) keptAside.push({ number: record.number, body });
  }
  const values = [...bodies].map(([number, body]) => ({
    session_id: session.id,
    number,
    kind: records.find((record) => record.number === number)?.kind ?? "page",
    body,
    received_at: at,
  }));
  const stored = new Set<number>();
  for (let from = 0; from < values.length; from += 100) {
    const made = await trx
      .insertInto("record")
      .values(values.slice(from, from + 100))
      .onConflict((conflict) => conflict.columns(["session_id", "number"]).doNothing())
      .returning("number")
      .execute();
    for (const { number } of made) stored.add(number);
  }
  const others = [...bodies.keys()].filter((number) => !stored.has(number));
  if (others.length > 0) {
    const there = await trx
      .selectFrom("record")
      .select(["number", "body"])
      .where("session_id", "=", session.id)
      .where("number", "in", others)
      .execute();
    for (const { number, body } of there) {
      const sent = bodies.get(number);
      if (sent !== undefined && sent !== body) keptAside.push({ number, body: sent });
    }
  }
  const beside = await storeBeside(trx, session.id, at, {
    keptAside,
    chunks: log.map(({ opening, number, entries }) => ({ opening, number, entries: JSON.stringify(entries) })),
    room: room.beside - present.stored_characters,
  });
  const upTo = await upToWithoutGap(trx, session.id, present.records, stored);
  const end = present.state !== "active" || upTo === present.records ? null : await endOf(trx, session.id, upTo);
  const state = end ? (end.withdrawn ? "withdrawn" : "finished") : present.state;
  const latest = records.flatMap((record) => (record.kind === "end" ? [] : [record])).at(-1);
  const display = log
    .flatMap(({ entries }) => entries.flatMap(({ what, value }) => (what === "display" && value ? [value] : [])))
    .findLast((value) => displayIn(value) !== null);
  const trials = records.filter(({ kind, number }) => kind === "trial" && stored.has(number)).length;
  const isRemoved = end?.withdrawn === true && session.document.settings.participation.withdrawn === "remove";
  await trx
    .updateTable("session")
    .set({
      seen_at: at,
      records: upTo,
      trials: present.trials + trials,
      stored_characters:
        present.stored_characters +
        lengthOf(values.flatMap(({ number, body }) => (stored.has(number) ? [body] : []))) +
        beside,
      ...(latest ? { part: latest.part } : {}),
      ...(display === undefined ? {} : { display }),
      ...(end ? { state, finished_at: at } : {}),
      ...(isRemoved ? { removed_at: at } : {}),
    })
    .where("id", "=", session.id)
    .execute();
  forgetLedger(trx);
  if (isRemoved)
    for (const table of ["record", "refused_record", "session_log"] as const)
      await trx.deleteFrom(table).where("session_id", "=", session.id).execute();
  return answer(
    upTo,
    state,
    [...new Set(keptAside.map(({ number }) => number))].sort((a, b) => a - b),
  );
}

const lengthOf = (texts: readonly string[]) => texts.reduce((sum, text) => sum + text.length, 0);

type Beside = {
  keptAside: { number: number; body: string }[];
  chunks: { opening: string; number: number; entries: string }[];
  room: number;
};

/** Stores what is no record of the session, where there is room; gives the length of what is new. The same is stored once. */
async function storeBeside(
  trx: Transaction<Tables>,
  sessionId: string,
  at: string,
  { keptAside, chunks, room }: Beside,
): Promise<number> {
  const all = lengthOf([...keptAside.map(({ body }) => body), ...chunks.map(({ entries }) => entries)]);
  if (all === 0 || all > room) return 0;
  let length = 0;
  if (keptAside.length > 0) {
    const there = await trx
      .selectFrom("refused_record")
      .select("body")
      .where("session_id", "=", sessionId)
      .where(
        "number",
        "in",
        keptAside.map(({ number }) => number),
      )
      .execute();
    const known = new Set(there.map(({ body }) => body));
    for (const { number, body } of keptAside) {
      if (known.has(body)) continue;
      known.add(body);
      length += body.length;
      await trx.insertInto("refused_record").values({ session_id: sessionId, number, body, received_at: at }).execute();
    }
  }
  if (chunks.length === 0) return length;
  const made = await trx
    .insertInto("session_log")
    .values(chunks.map((chunk) => ({ session_id: sessionId, ...chunk, received_at: at })))
    .onConflict((conflict) => conflict.columns(["session_id", "opening", "number"]).doNothing())
    .returning("entries")
    .execute();
  return length + lengthOf(made.map(({ entries }) => entries));
}

/** The highest number up to which no record is missing, given up to where that was so before and what has come now. */
async function upToWithoutGap(
  trx: Transaction<Tables>,
  sessionId: string,
  before: number,
  stored: ReadonlySet<number>,
): Promise<number> {
  let upTo = before;
  while (stored.has(upTo + 1)) upTo++;
  if (upTo === before) return before;
  // Records that arrived early may follow now.
  const after = await trx
    .selectFrom("record")
    .select("number")
    .where("session_id", "=", sessionId)
    .where("number", ">", upTo)
    .orderBy("number")
    .execute();
  for (const { number } of after) if (number === upTo + 1) upTo = number;
  return upTo;
}

/** The session's end, where its records are whole up to it. */
async function endOf(
  trx: Transaction<Tables>,
  sessionId: string,
  upTo: number,
): Promise<{ withdrawn: boolean } | null> {
  const found = await trx
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", sessionId)
    .where("number", "=", upTo)
    .where("kind", "=", "end")
    .executeTakeFirst();
  return found ? { withdrawn: (JSON.parse(found.body) as { withdrawn?: boolean }).withdrawn === true } : null;
}
