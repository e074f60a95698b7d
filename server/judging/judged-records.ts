import { sql } from "kysely";
import type { SessionRecord } from "../../core/records/record";
import type { Store } from "../database/open";
import type { SessionRow } from "../session-of-secret";
import { isQuick } from "./judgments";

/** How many records of a session are kept aside until their turn: hardly ever any. */
export const earlyOnes =
  sql<number>`(select count(*) from refused_record where session_id = session.id and why = 'early')`.as("early");

/** What was sent, as it stands to what is stored up to `position`. */
export type Judged = {
  position: number;
  /** Records to be stored in place, or there already. */
  inPlace: SessionRecord[];
  /** Those of them that were kept aside until now. */
  taken: number[];
  unplanned: SessionRecord[];
  early: SessionRecord[];
};

/**
 * Judges what was sent, together with what was kept aside until its turn, by how the session stands just now. `isLate`: what
 * comes next is among the latter.
 */
export async function judgedNow(
  store: Store,
  session: SessionRow,
  sent: readonly SessionRecord[],
  isLate: boolean,
): Promise<Judged> {
  const { db } = store;
  const there = await db
    .selectFrom("session")
    .select(["records", "participant", "trials_planned", earlyOnes])
    .where("id", "=", session.id)
    .executeTakeFirst();
  // Of a session that was deleted nothing is judged or stored any more.
  const position = there?.records ?? Infinity;
  const inPlace = sent.filter(({ number }) => number <= position);
  const ahead = sent.filter(({ number }) => number > position);
  if (ahead.length === 0 && !isLate) return { position, inPlace, taken: [], unplanned: [], early: [] };
  const waiting = there?.early
    ? await db
        .selectFrom("refused_record")
        .select("body")
        .where("session_id", "=", session.id)
        .where("number", ">", position)
        .where("why", "=", "early")
        .execute()
    : [];
  const byNumber = new Map<number, SessionRecord>();
  for (const { body } of waiting) {
    const record = JSON.parse(body) as SessionRecord;
    byNumber.set(record.number, record);
  }
  const kept = new Set(byNumber.values());
  for (const record of ahead.toReversed()) byNumber.set(record.number, record);
  const next: SessionRecord[] = [];
  for (let record = byNumber.get(position + 1); record; record = byNumber.get(record.number + 1)) next.push(record);
  const { follow } =
    next.length > 0
      ? await store.judge({
          session: session.id,
          participant: there?.participant ?? session.participant,
          position,
          records: next,
          isQuick: isQuick(session.document, there?.trials_planned ?? session.trialsPlanned),
        })
      : { follow: 0 };
  const upTo = position + follow;
  const stopped = next[follow];
  return {
    position,
    // A second one under a number that is taken is found out where the first is stored.
    inPlace: [
      ...inPlace,
      ...next.slice(0, follow),
      ...ahead.filter((record) => record.number <= upTo && byNumber.get(record.number) !== record),
    ],
    taken: next.slice(0, follow).flatMap((record) => (kept.has(record) ? [record.number] : [])),
    unplanned: stopped
      ? ahead.filter(({ number }) => number === stopped.number).concat(kept.has(stopped) ? [stopped] : [])
      : [],
    early: ahead.filter(({ number }) => number > upTo && number !== stopped?.number),
  };
}
