import type { Transaction } from "kysely";
import * as yup from "yup";
import type { StudyDocument } from "../core/design/types";
import { outcomes, type SessionRecord } from "../core/run/records";
import { presentRecord } from "../core/run/stored-records";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { sessionOfSecret } from "./sessions";

/** Records a player may send at once. */
export const mostRecordsAtOnce = 500;

export type Appended =
  /** `acknowledged`: all records up to this number are stored for good. */
  | { ok: true; acknowledged: number; finished: boolean; code: string | null; keptAside: number[] }
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
  })
  .noUnknown();
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
  .object({ scene: id(), onset: time(), end: time(), planned: yup.number().defined().nullable() })
  .noUnknown();
const kinds = {
  trial: yup
    .object({
      kind: yup.string().required(),
      number: whole(),
      part: id(),
      trial: whole(),
      pass: whole(),
      row: id(),
      scenes: yup.array(scene).required().max(200),
      answers: yup.array(answer).required().max(20),
      lateFrames: yup.number().integer().min(0).required(),
      observed: yup.array(observation).required().max(1000),
      placed,
    })
    .noUnknown(),
  page: yup
    .object({ kind: yup.string().required(), number: whole(), part: id(), shown: time(), done: time() })
    .noUnknown(),
  end: yup.object({ kind: yup.string().required(), number: whole(), at: time() }).noUnknown(),
};

/** A record as sent, brought into the present form, checked in shape and against the release it was played on; null where it does not fit. */
function asRecord(value: unknown, document: StudyDocument): SessionRecord | null {
  const kind = typeof value === "object" && value !== null ? (value as { kind?: unknown }).kind : null;
  if (kind !== "trial" && kind !== "page" && kind !== "end") return null;
  const record = presentRecord(value, document);
  if (!kinds[kind].isValidSync(record, { strict: true })) return null;
  if (record.kind === "end") return record;
  const part = document.parts[record.part];
  if (record.kind === "page") return part?.kind === "page" ? record : null;
  if (part?.kind !== "block" || !part.table.rows.some((row) => row.id === record.row)) return null;
  return record.scenes.every(({ scene }) => part.scenes.some((each) => each.id === scene)) ? record : null;
}

/**
 * Stores records of the session the secret opens, in one transaction, and says up to which number all are stored.
 * The same record again is stored once; a different one under a used number is kept aside and named in `keptAside`.
 */
export async function appendRecords(store: Store, secret: string, sent: unknown): Promise<Appended> {
  const session = await sessionOfSecret(store, secret);
  if (!session) return { ok: false, reason: "There is no such session." };
  if (!Array.isArray(sent) || sent.length > mostRecordsAtOnce)
    return { ok: false, reason: `Send a list of at most ${mostRecordsAtOnce} records.` };
  const records = sent.map((value) => asRecord(value, session.document));
  const broken = records.indexOf(null);
  if (broken >= 0) return { ok: false, reason: `The record in place ${broken + 1} does not fit this study.` };
  const fitting = records.filter((record) => record !== null);
  return store.db.transaction().execute(async (trx) => {
    const at = new Date().toISOString();
    const keptAside: number[] = [];
    for (const record of fitting) {
      const body = JSON.stringify(record);
      const made = await trx
        .insertInto("record")
        .values({ session_id: session.id, number: record.number, kind: record.kind, body, received_at: at })
        .onConflict((conflict) => conflict.columns(["session_id", "number"]).doNothing())
        .executeTakeFirst();
      if (made.numInsertedOrUpdatedRows !== 0n) continue;
      const there = await trx
        .selectFrom("record")
        .select("body")
        .where("session_id", "=", session.id)
        .where("number", "=", record.number)
        .executeTakeFirstOrThrow();
      if (there.body === body) continue;
      keptAside.push(record.number);
      await trx
        .insertInto("refused_record")
        .values({ session_id: session.id, number: record.number, body, received_at: at })
        .execute();
    }
    const upTo = await storedWithoutGap(trx, session.id);
    const stored = await trx
      .selectFrom("record")
      .select(({ fn }) => ["kind", fn.countAll<number>().as("count")])
      .where("session_id", "=", session.id)
      .groupBy("kind")
      .execute();
    const finished =
      stored.some(({ kind }) => kind === "end") && stored.reduce((sum, { count }) => sum + count, 0) === upTo;
    const latest = fitting.flatMap((record) => (record.kind === "end" ? [] : [record])).at(-1);
    await trx
      .updateTable("session")
      .set({
        seen_at: at,
        records: upTo,
        trials: stored.find(({ kind }) => kind === "trial")?.count ?? 0,
        ...(latest ? { part: latest.part } : {}),
        ...(finished && !session.finished ? { state: "finished" as const, finished_at: at } : {}),
      })
      .where("id", "=", session.id)
      .execute();
    return { ok: true, acknowledged: upTo, finished, code: finished ? session.code : null, keptAside };
  });
}

/** The highest number up to which no record of the session is missing. */
async function storedWithoutGap(trx: Transaction<Tables>, sessionId: string): Promise<number> {
  const whole = await trx
    .selectFrom("record")
    .select(({ fn }) => [fn.countAll<number>().as("count"), fn.max<number | null>("number").as("last")])
    .where("session_id", "=", sessionId)
    .executeTakeFirstOrThrow();
  if (whole.count === (whole.last ?? 0)) return whole.count;
  const numbers = await trx
    .selectFrom("record")
    .select("number")
    .where("session_id", "=", sessionId)
    .orderBy("number")
    .execute();
  return numbers.findIndex(({ number }, index) => number !== index + 1);
}
