import type { Transaction } from "kysely";
import * as yup from "yup";
import type { Block, StudyDocument } from "../core/design/types";
import { logKinds, type LogChunk } from "../core/run/log";
import { interruptions, outcomes, type SessionRecord } from "../core/run/records";
import { presentRecord } from "../core/run/stored-records";
import type { Store } from "./database/open";
import type { SessionState, Tables } from "./database/tables";
import { sessionOfHash, sessionOfSecret, type SessionRow } from "./sessions";

/** Records a player may send at once. */
export const mostRecordsAtOnce = 500;

export type Appended =
  /** `acknowledged`: all records up to this number are stored for good. */
  | {
      ok: true;
      acknowledged: number;
      finished: boolean;
      code: string | null;
      keptAside: number[];
      /** The session goes on at another computer. */
      superseded: boolean;
    }
  | { ok: false; reason: string };

const time = () => yup.number().required().min(0).max(1e10);
const id = () => yup.string().required().max(60);
const input = yup
  .object({
    device: yup.string().oneOf(["keys", "pointer", "typed", "slider", "web"]).required(),
    value: yup.string().defined().max(20_000),
    place: yup.string().max(60),
    act: yup.string().oneOf(["press", "release", "hold"]),
    heldMs: yup.number().min(0),
    on: yup.string().max(60),
    by: yup.string().oneOf(["mouse", "pen", "touch", "keyboard"]),
    x: yup.number(),
    y: yup.number(),
  })
  .noUnknown();
const taken = {
  value: yup.string().defined().max(20_000),
  at: time(),
  scenesShown: yup.number().integer().required(),
  order: yup.number().integer().required(),
  input: input.required(),
};
const early = yup.object(taken).noUnknown();
const given = yup.object({ ...taken, rt: yup.number().required() }).noUnknown();
const orNull = (schema: yup.Schema) =>
  yup.lazy((value: unknown) => (value === null ? yup.mixed().nullable() : schema.required()));
const answer = yup
  .object({
    answer: id(),
    given: orNull(given),
    right: yup.boolean().defined().nullable(),
    outcome: yup.string().oneOf(outcomes).required(),
    early: yup.array(early).required().max(100),
    tooLate: orNull(given),
    revised: yup.array(given).required().max(10_000),
  })
  .noUnknown();
const observation = yup
  .object({
    item: id(),
    what: yup.string().oneOf(["began", "ended", "value"]).required(),
    at: time(),
    value: yup.string().max(20_000),
    offset: yup.number(),
    lateFrames: yup.number().integer().min(0),
  })
  .noUnknown();
const ended = yup
  .object({
    by: yup.string().oneOf(["time", "answer", "media"]).required(),
    frames: yup.number().integer().required(),
    planned: yup.number().integer().defined().nullable(),
  })
  .noUnknown()
  .default(undefined);
const element = yup
  .object({ x: yup.number().required(), y: yup.number().required(), isTarget: yup.boolean().required() })
  .noUnknown();
const placed = yup.lazy((value: unknown) =>
  yup
    .object(
      Object.fromEntries(
        Object.keys(typeof value === "object" && value !== null ? value : {}).map((key) => [
          key,
          yup.array(element).required().max(500),
        ]),
      ),
    )
    .required(),
);
const whole = () => yup.number().integer().required().min(1).max(1e7);
const scene = yup
  .object({ scene: id(), onset: time(), end: time(), planned: yup.number().defined().nullable(), ended })
  .noUnknown();
const played = {
  kind: yup.string().required(),
  number: whole(),
  part: id(),
  trial: whole(),
  pass: whole(),
  row: id(),
  scenes: yup.array(scene).required().max(200),
  answers: yup.array(answer).required().max(20),
  observed: yup.array(observation).required().max(1000),
  placed,
};
const kinds: Record<SessionRecord["kind"], yup.Schema> = {
  trial: yup.object({ ...played, lateFrames: yup.number().integer().min(0).required() }).noUnknown(),
  "broken-off": yup.object({ ...played, at: time(), why: yup.string().oneOf(interruptions).required() }).noUnknown(),
  break: yup
    .object({ kind: yup.string().required(), number: whole(), part: id(), after: whole(), shown: time(), done: time() })
    .noUnknown(),
  page: yup
    .object({ kind: yup.string().required(), number: whole(), part: id(), shown: time(), done: time() })
    .noUnknown(),
  end: yup
    .object({ kind: yup.string().required(), number: whole(), at: time(), withdrawn: yup.boolean().oneOf([true]) })
    .noUnknown(),
};
const isKind = (kind: unknown): kind is SessionRecord["kind"] => typeof kind === "string" && Object.hasOwn(kinds, kind);

/** What records of a block can name. */
type Named = { rows: Set<string>; scenes: Set<string>; answers: string };
const namedIn = new WeakMap<Block, Named>();
function namesOf(block: Block): Named {
  const known = namedIn.get(block);
  if (known) return known;
  const made = {
    rows: new Set(block.table.rows.map(({ id }) => id)),
    scenes: new Set(block.scenes.map(({ id }) => id)),
    answers: block.answers.map(({ id }) => id).join(" "),
  };
  namedIn.set(block, made);
  return made;
}

/** A record as sent, brought into the present form, checked in shape and against the release it was played on; null where it does not fit. */
function asRecord(value: unknown, { document, trialsPlanned }: SessionRow): SessionRecord | null {
  const kind = typeof value === "object" && value !== null ? (value as { kind?: unknown }).kind : null;
  if (!isKind(kind)) return null;
  const record = presentRecord(value, document);
  if (!kinds[kind].isValidSync(record, { strict: true })) return null;
  if (record.number > mostNumbers(document, trialsPlanned)) return null;
  if (record.kind === "end") return record;
  const part = Object.hasOwn(document.parts, record.part) ? document.parts[record.part] : undefined;
  if (record.kind === "page") return part?.kind === "page" ? record : null;
  if (part?.kind !== "block") return null;
  if (record.kind === "break") return part.breaks ? record : null;
  const { rows, scenes, answers } = namesOf(part);
  const fits =
    record.trial <= trialsPlanned &&
    rows.has(record.row) &&
    record.scenes.every(({ scene }) => scenes.has(scene)) &&
    record.answers.map(({ answer }) => answer).join(" ") === answers;
  return fits ? record : null;
}

/** A session cannot have more records: each trial broken off a few times, each part, each break. */
const mostNumbers = ({ parts }: StudyDocument, trials: number) => trials * 12 + Object.keys(parts).length + 1000;

const entry = yup
  .object({
    at: time(),
    what: yup.string().oneOf(logKinds).required(),
    trial: yup.number().integer().min(1).max(1e7),
    value: yup.string().max(2000),
  })
  .noUnknown();
const chunk = yup
  .object({
    opening: yup
      .string()
      .required()
      .matches(/^[\w-]{1,24}$/),
    number: whole(),
    entries: yup.array(entry).required().max(3000),
  })
  .noUnknown();
const asChunk = (value: unknown): LogChunk | null =>
  chunk.isValidSync(value, { strict: true }) ? (value as LogChunk) : null;
const mostChunksAtOnce = 200;

type Sent = { records: SessionRecord[]; log: LogChunk[] };

/** What was sent, checked; a sentence where it cannot be taken. A bare list is taken for records, as players used to send. */
function asSent(sent: unknown, session: SessionRow): Sent | string {
  const {
    records,
    log = [],
    ...unknown
  } = (Array.isArray(sent) ? { records: sent } : typeof sent === "object" && sent !== null ? sent : {}) as {
    records?: unknown;
    log?: unknown;
  };
  if (!Array.isArray(records) || records.length > mostRecordsAtOnce)
    return `Send a list of at most ${mostRecordsAtOnce} records.`;
  if (!Array.isArray(log) || log.length > mostChunksAtOnce || Object.keys(unknown).length > 0)
    return `Send records, and beside them at most ${mostChunksAtOnce} pieces of the log.`;
  const fitting = records.map((value) => asRecord(value, session));
  const broken = fitting.indexOf(null);
  if (broken >= 0) return `The record in place ${broken + 1} does not fit this study.`;
  const chunks = log.map(asChunk);
  if (chunks.includes(null)) return "The log does not have the right form.";
  return { records: fitting.filter((each) => each !== null), log: chunks.filter((each) => each !== null) };
}

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
  const present = await trx
    .selectFrom("session")
    .select(["state", "records", "trials", "removed_at"])
    .where("id", "=", session.id)
    .executeTakeFirstOrThrow();
  const answer = (acknowledged: number, state: SessionState, keptAside: number[]): Appended => ({
    ok: true,
    acknowledged,
    finished: state !== "active",
    code: state === "finished" ? session.code : null,
    keptAside,
    superseded: session.superseded,
  });
  // The participant left and wanted nothing kept: what comes again because an acknowledgement got lost is not stored anew.
  if (present.removed_at !== null)
    return answer(Math.max(present.records, ...records.map(({ number }) => number)), present.state, []);
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
  for (const { number, body } of keptAside)
    await trx.insertInto("refused_record").values({ session_id: session.id, number, body, received_at: at }).execute();
  if (log.length > 0)
    await trx
      .insertInto("session_log")
      .values(
        log.map(({ opening, number, entries }) => ({
          session_id: session.id,
          opening,
          number,
          entries: JSON.stringify(entries),
          received_at: at,
        })),
      )
      .onConflict((conflict) => conflict.columns(["session_id", "opening", "number"]).doNothing())
      .execute();
  const upTo = await upToWithoutGap(trx, session.id, present.records, stored);
  const end = present.state !== "active" || upTo === present.records ? null : await endOf(trx, session.id, upTo);
  const state = end ? (end.withdrawn ? "withdrawn" : "finished") : present.state;
  const latest = records.flatMap((record) => (record.kind === "end" ? [] : [record])).at(-1);
  const display = log.flatMap(({ entries }) => entries.filter(({ what }) => what === "display")).at(-1)?.value;
  const trials = records.filter(({ kind, number }) => kind === "trial" && stored.has(number)).length;
  const isRemoved = end?.withdrawn === true && session.document.settings.participation.withdrawn === "remove";
  await trx
    .updateTable("session")
    .set({
      seen_at: at,
      records: upTo,
      trials: present.trials + trials,
      ...(latest ? { part: latest.part } : {}),
      ...(display === undefined ? {} : { display }),
      ...(end ? { state, finished_at: at } : {}),
      ...(isRemoved ? { removed_at: at } : {}),
    })
    .where("id", "=", session.id)
    .execute();
  if (isRemoved)
    for (const table of ["record", "refused_record", "session_log"] as const)
      await trx.deleteFrom(table).where("session_id", "=", session.id).execute();
  return answer(
    upTo,
    state,
    [...new Set(keptAside.map(({ number }) => number))].sort((a, b) => a - b),
  );
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
  // What came earlier out of turn may follow now.
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
