import { LRUCache } from "lru-cache";
import type { StudyDocument } from "../../core/design/document";
import { itemsIn } from "../../core/design/lookup";
import { itemKind } from "../../core/items/registry";
import type { SessionRecord } from "../../core/records/record";
import { presentRecord } from "../../core/records/stored";
import { Follower } from "../../core/run/follower";
import type { Store } from "../database/open";
import { frozenDocument } from "../frozen-documents";
import { playedBy } from "../session-of-secret";

/**
 * Records to be judged: those that come next in a session whose stored records end at `position`. `participant`: the number
 * it has, since with its place it has another plan. `isQuick`: its plan is drawn in a few milliseconds.
 */
export type Question = {
  session: string;
  participant: number;
  position: number;
  records: SessionRecord[];
  isQuick: boolean;
};
/** How many of them follow, and why the next one does not; null where all do. */
export type Judgment = { follow: number; why: string | null };
/** Says which records can follow in a session, from what was drawn for it and from what is stored of it. */
export type Judge = (question: Question) => Promise<Judgment>;

/** So many trials of plans are kept in memory, over all sessions; what is left out is worked out again when it is needed. */
const mostTrials = 400_000;
/** What a follower without trials weighs as trials. */
const least = 50;

const quickTrials = 1000;
const limited = new WeakMap<StudyDocument, boolean>();

/** Whether a session's plan is drawn so quickly that it need not be done in another thread: few trials, no limits, no arrays. */
export function isQuick(document: StudyDocument, trials: number): boolean {
  if (trials > quickTrials) return false;
  const known = limited.get(document);
  if (known !== undefined) return !known;
  const isLimited = Object.values(document.parts).some(
    (part) =>
      part.kind === "block" &&
      (part.order.limits.length > 0 ||
        part.table.rows.length > quickTrials ||
        itemsIn(part).some(({ kind }) => itemKind(kind).draw !== undefined)),
  );
  limited.set(document, isLimited);
  return !isLimited;
}

/**
 * `isSure`: its stored records follow its plan; those of earlier versions of Lapwing need not. `refusals`: how many were sent
 * that do not, since one did.
 */
type Known = { follower: Follower; position: number; isSure: boolean; refusals: number; triedAt: number };
/** After so many a session's records are replayed once a second only: whoever sends them means no good. */
const [freeRefusals, restMs] = [50, 1000];

/** Judges with the data of a store, keeping how far the sessions are. */
export function judgeOn({ db }: Pick<Store, "db">): Judge {
  const known = new LRUCache<string, Known>({
    maxSize: mostTrials,
    sizeCalculation: ({ follower }) => follower.trials + least,
  });
  /** One question of a session is answered after the other. */
  const busy = new Map<string, Promise<unknown>>();

  async function rebuilt(session: string, position: number): Promise<Known> {
    const row = await db.selectFrom("session").selectAll().where("id", "=", session).executeTakeFirstOrThrow();
    const document = await frozenDocument(db, row.release_id);
    const follower = new Follower(document, playedBy(row, document));
    const records = await db
      .selectFrom("record")
      .select("body")
      .where("session_id", "=", session)
      .where("number", "<=", position)
      .orderBy("number")
      .execute();
    const isSure = records.every(({ body }) => follower.take(presentRecord(JSON.parse(body), document)) === null);
    return { follower, position, isSure, refusals: 0, triedAt: 0 };
  }

  async function judge({ session, participant, position, records }: Question): Promise<Judgment> {
    let found = known.get(session);
    if (!found || found.position !== position || found.follower.participant !== participant) {
      found = await rebuilt(session, position);
      known.set(session, found);
    }
    const now = performance.now();
    if (found.refusals >= freeRefusals && now - found.triedAt < restMs)
      return { follow: 0, why: "too many cannot follow" };
    found.triedAt = now;
    for (const [index, record] of records.entries()) {
      const why = found.isSure ? found.follower.take(record) : null;
      if (why !== null) {
        found.refusals++;
        return { follow: index, why };
      }
      found.refusals = 0;
      found.position++;
    }
    if (records.at(-1)?.kind === "end") known.delete(session);
    return { follow: records.length, why: null };
  }

  return (question) => {
    const before = busy.get(question.session) ?? Promise.resolve();
    const mine = before.then(() => judge(question));
    const settled = mine.catch(() => undefined);
    busy.set(question.session, settled);
    void settled.then(() => busy.get(question.session) === settled && busy.delete(question.session));
    return mine;
  };
}
