import type { Selectable } from "kysely";
import { LRUCache } from "lru-cache";
import { hasPlace, type Place } from "../core/order/place";
import type { StudyDocument } from "../core/design/document";
import { seedOf } from "../core/order/seed";
import type { Orders } from "../core/order/parts";
import { presentRecord } from "../core/records/stored";
import { entryInto } from "../core/run/entry";
import type { PlayedBy } from "../core/run/follower";
import type { Rehearsal } from "../core/run/rehearsal";
import type { Beginning, Given } from "../core/run/state";
import { looksAtDevice, type Device } from "../core/values/device";
import type { SessionData } from "../core/run/session-data";
import { secretHash } from "./chance";
import { endShownBy } from "./ends";
import { codesOf } from "./codes";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { frozenDocument } from "./frozen-documents";

export type SessionRow = Place & {
  id: string;
  studyId: string;
  releaseId: string;
  document: StudyDocument;
  seed: string;
  entered: number;
  begins: Beginning;
  pilot: boolean;
  link: string | null;
  startedAt: string;
  /** When it counts as broken off at the latest. */
  endsBy: string | null;
  trialsPlanned: number;
  goOn: string | null;
  /** The stored hash of the secret by which it was found. */
  tokenHash: string;
  /** The session has moved to another computer since this secret was given out. */
  superseded: boolean;
};

/** How a session began, where that is not as its study says. */
export function beginningOf(row: Pick<Selectable<Tables["session"]>, "given" | "rehearsal" | "device">): Beginning {
  const { given, rehearsal, device } = row;
  return {
    ...(given === null ? {} : { given: JSON.parse(given) as Given }),
    ...(rehearsal === null ? {} : { rehearsal: JSON.parse(rehearsal) as Rehearsal }),
    ...(device === null ? {} : { device: JSON.parse(device) as Device }),
  };
}

/** Who plays a stored session, and what was drawn for them. */
export const playedBy = (
  row: Pick<
    Selectable<Tables["session"]>,
    "participant" | "entered" | "group_id" | "orders" | "sitting" | "given" | "rehearsal" | "device"
  >,
  document: StudyDocument,
): PlayedBy => ({
  participant: row.participant,
  entered: row.entered || row.participant,
  group: row.group_id,
  orders: JSON.parse(row.orders) as Orders,
  seed: seedOf(document, row.sitting),
  begins: beginningOf(row),
});

/** The session a participant's secret opens; null for anything else. */
export const sessionOfSecret = (store: Store, secret: string): Promise<SessionRow | null> =>
  sessionOfHash(store, secretHash(secret));

/**
 * Sessions that are being played and have their place, by store and hash. What stands here of a session never changes while
 * its secret holds; whether it still does is looked up where it matters, since another process may have handed the session on.
 */
const mostInPlay = 5000;
const inPlay = new WeakMap<Store["db"], LRUCache<string, SessionRow>>();

/** This hash opens nothing any more: the session has moved to another computer. */
export const forgetInPlay = (store: Store, hash: string): void => void inPlay.get(store.db)?.delete(hash);

/** The same by the stored hash of the secret. */
export async function sessionOfHash(store: Store, hash: string): Promise<SessionRow | null> {
  const known = inPlay.get(store.db) ?? new LRUCache<string, SessionRow>({ max: mostInPlay });
  inPlay.set(store.db, known);
  const row = known.get(hash) ?? (await storedSession(store, hash));
  if (row && !row.superseded && hasPlace(row)) known.set(hash, row);
  return row;
}

async function storedSession({ db }: Store, hash: string): Promise<SessionRow | null> {
  const rows = db.selectFrom("session").selectAll("session");
  const current = await rows.where("session.token_hash", "=", hash).executeTakeFirst();
  const row =
    current ??
    (await rows
      .innerJoin("earlier_token", "earlier_token.session_id", "session.id")
      .where("earlier_token.token_hash", "=", hash)
      .executeTakeFirst());
  if (!row) return null;
  const document = await frozenDocument(db, row.release_id);
  return {
    id: row.id,
    studyId: row.study_id,
    releaseId: row.release_id,
    document,
    participant: row.participant,
    group: row.group_id,
    orders: JSON.parse(row.orders) as Orders,
    seed: seedOf(document, row.sitting),
    entered: row.entered || row.participant,
    begins: beginningOf(row),
    pilot: row.pilot === 1,
    link: row.link_token,
    startedAt: row.started_at,
    endsBy: row.ends_by,
    trialsPlanned: row.trials_planned,
    goOn: (await codesOf(db, row.id)).goOn,
    tokenHash: hash,
    superseded: current === undefined,
  };
}

/**
 * Keeps on what device a session begins: once, before its first record, and only where its study looks at it. Gives what is
 * kept; null where nothing is.
 */
export async function setDevice(store: Store, secret: string, device: Device): Promise<Device | null> {
  const row = await sessionOfSecret(store, secret);
  if (!row || row.superseded || !looksAtDevice(row.document)) return null;
  const ofSession = store.db.updateTable("session").where("id", "=", row.id);
  await ofSession
    .set({ device: JSON.stringify(device) })
    .where("records", "=", 0)
    .where("device", "is", null)
    .execute();
  forgetInPlay(store, row.tokenHash);
  return (await sessionOfSecret(store, secret))?.begins.device ?? null;
}

/** A session with all its records, to resume after a reload; null also where it continues on another computer. */
export async function resumeSession(store: Store, secret: string): Promise<SessionData | null> {
  const row = await sessionOfSecret(store, secret);
  if (!row || row.superseded) return null;
  const present = await store.db
    .selectFrom("session")
    .select(["id", "state", "token_hash", "link_token"])
    .where("id", "=", row.id)
    .executeTakeFirst();
  const state = present?.state;
  if (present?.token_hash !== row.tokenHash) {
    forgetInPlay(store, row.tokenHash);
    return null;
  }
  const records = await store.db
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", row.id)
    .orderBy("number")
    .execute();
  const end = present && (await endShownBy(store.db, present));
  return {
    session: row.id,
    participant: row.participant,
    group: row.group,
    orders: row.orders,
    seed: row.seed,
    entered: row.entered,
    begins: row.begins,
    pilot: row.pilot,
    startedAt: row.startedAt,
    document: row.document,
    entry: entryInto(row.document),
    records: records.map(({ body }) => presentRecord(JSON.parse(body), row.document)),
    finished: state !== "active",
    goOn: state === "active" ? row.goOn : null,
    code: state === "finished" ? (await codesOf(store.db, row.id)).completion : null,
    ...(end ? { end } : {}),
  };
}
