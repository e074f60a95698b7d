import { LRUCache } from "lru-cache";
import type { SessionRecord } from "../core/records/record";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
import { otherTurns } from "./export/reader";
import { cellCounts } from "./cell-counts";
import type { Release } from "./releases";

/** Sessions looked at for how long parts take: the newest are enough for a middle value. */
const sessionsMeasured = 40;

/** How long each part took in finished sessions, the median in minutes; parts no one has played are left out. */
export async function measuredMinutes({ db }: Store, studyId: string): Promise<Record<string, number>> {
  const sessions = await db
    .selectFrom("session")
    .select("id")
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("state", "=", "finished")
    .where("excluded_at", "is", null)
    .orderBy("finished_at", "desc")
    .limit(sessionsMeasured)
    .execute();
  const lengths = new Map<string, number[]>();
  for (const { id } of sessions) {
    for (const [part, minutes] of await minutesOf(db, id)) lengths.set(part, [...(lengths.get(part) ?? []), minutes]);
  }
  return Object.fromEntries(
    [...lengths].map(([part, all]) => [part, all.sort((a, b) => a - b)[Math.floor(all.length / 2)] ?? 0]),
  );
}

/** So many records are read before others have their turn. */
const recordsAtOnce = 500;
/** What was read of a finished session never changes. */
const known = new LRUCache<string, ReadonlyMap<string, number>>({ max: 2000 });

/** How long each part took in a finished session, in minutes. Others have their turn before one that is not known yet. */
async function minutesOf(db: Store["db"], session: string): Promise<ReadonlyMap<string, number>> {
  const before = known.get(session);
  if (before) return before;
  await otherTurns();
  const records = await db
    .selectFrom("record")
    .select("body")
    .where("session_id", "=", session)
    .orderBy("number")
    .execute();
  const parts = new Map<string, { from: number; to: number }>();
  for (const [index, { body }] of records.entries()) {
    if (index % recordsAtOnce === recordsAtOnce - 1) await otherTurns();
    const record = JSON.parse(body) as SessionRecord;
    if (record.kind === "end" || record.kind === "break") continue;
    const [from, to] =
      record.kind === "page"
        ? [record.shown, record.done]
        : [record.scenes[0]?.onset ?? 0, record.scenes.at(-1)?.end ?? 0];
    const there = parts.get(record.part);
    parts.set(record.part, there ? { from: Math.min(there.from, from), to: Math.max(there.to, to) } : { from, to });
  }
  const minutes = new Map([...parts].map(([part, { from, to }]) => [part, (to - from) / 60_000]));
  known.set(session, minutes);
  return minutes;
}

/** Participants that count in each cell, by the rule of a release. */
export async function collectedIn(store: Store, studyId: string, { id }: Release): Promise<Record<string, number>> {
  const document = await frozenDocument(store.db, id);
  return Object.fromEntries(await cellCounts(store.db, studyId, document, null));
}
