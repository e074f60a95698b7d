import type { StudyDocument } from "../core/design/document";
import { displayIn } from "../core/records/log";
import type { SessionRecord } from "../core/records/record";
import { presentRecord } from "../core/records/stored";
import type { PlayedBy } from "../core/run/follower";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
import { playedBy } from "./session-of-secret";

/** A session as it can be shown again: the study it was played by, who played it, and its records. */
export type StoredSession = {
  document: StudyDocument;
  whose: PlayedBy;
  records: SessionRecord[];
  /** The participant's window in CSS pixels; null where it was not told. */
  window: { width: number; height: number } | null;
};

/** So many records, and so many characters of all that is stored of it, a session has at most to be shown again. */
export const mostShown = { records: 5000, characters: 16e6 };

/** What is needed to show a session of a study again; null where there is none such, the reason where it cannot be shown. */
export async function storedSession(
  { db }: Store,
  studyId: string,
  id: string,
): Promise<StoredSession | { reason: string } | null> {
  const row = await db
    .selectFrom("session")
    .selectAll()
    .where("id", "=", id)
    .where("study_id", "=", studyId)
    .executeTakeFirst();
  if (!row) return null;
  if (row.records > mostShown.records || row.stored_characters > mostShown.characters)
    return { reason: `This session is too long to be shown again: it has ${row.records} records.` };
  const document = await frozenDocument(db, row.release_id);
  const stored = await db.selectFrom("record").select("body").where("session_id", "=", id).orderBy("number").execute();
  const display = displayIn(row.display);
  return {
    document,
    whose: playedBy(row, document),
    records: stored.map(({ body }) => presentRecord(JSON.parse(body), document)),
    window:
      display && display.width > 0 && display.height > 0 ? { width: display.width, height: display.height } : null,
  };
}
