import type { SessionRecord } from "../core/records/record";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
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
  if (sessions.length === 0) return {};
  const records = await db
    .selectFrom("record")
    .select(["session_id", "body"])
    .where(
      "session_id",
      "in",
      sessions.map(({ id }) => id),
    )
    .orderBy("session_id")
    .orderBy("number")
    .execute();
  const byPart = new Map<string, Map<string, { from: number; to: number }>>();
  for (const { session_id, body } of records) {
    const record = JSON.parse(body) as SessionRecord;
    if (record.kind === "end" || record.kind === "break") continue;
    const [from, to] =
      record.kind === "page"
        ? [record.shown, record.done]
        : [record.scenes[0]?.onset ?? 0, record.scenes.at(-1)?.end ?? 0];
    const own = byPart.get(record.part) ?? new Map<string, { from: number; to: number }>();
    byPart.set(record.part, own);
    const known = own.get(session_id);
    own.set(session_id, known ? { from: Math.min(known.from, from), to: Math.max(known.to, to) } : { from, to });
  }
  return Object.fromEntries(
    [...byPart].map(([part, own]) => {
      const lengths = [...own.values()].map(({ from, to }) => (to - from) / 60_000).sort((a, b) => a - b);
      return [part, lengths[Math.floor(lengths.length / 2)] ?? 0];
    }),
  );
}

/** Participants that count in each cell, by the rule of a release. */
export async function collectedIn(store: Store, studyId: string, { id }: Release): Promise<Record<string, number>> {
  const document = await frozenDocument(store.db, id);
  return Object.fromEntries(await cellCounts(store.db, studyId, document, null));
}
