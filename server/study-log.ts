import type { Transaction } from "kysely";
import { newId } from "./chance";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

/** What is written down of a study. Nothing of it is ever changed; participants stand there by their numbers only. */
export const deedKinds = [
  "released",
  "rights",
  "opened",
  "exported",
  "left-out",
  "noted",
  "collecting",
  "key",
  "recipe",
  "scored",
  "removed",
  "study",
] as const;
export type DeedKind = (typeof deedKinds)[number];
/** What was done, when and by whom. */
export type Deed = { at: string; by: string; what: string; kind: DeedKind };

type Db = Store["db"] | Transaction<Tables>;

/** How whoever did something is named in the log. */
export const whoIs = ({ name, email }: { name: string; email: string }): string => `${name} (${email})`;

/** Writes down that something was done. */
export async function noteDeed(
  db: Db,
  { code, by, what, kind = "removed" }: { code: string; by: string; what: string; kind?: DeedKind },
): Promise<void> {
  await db
    .insertInto("deed")
    .values({ id: newId("deed"), study_code: code, at: new Date().toISOString(), by_whom: by, what, kind })
    .execute();
}

/** So long what somebody looks at again is the same look. */
const lookMs = 10 * 60_000;

/** Writes down that somebody looked at something, once in a while for each who does. */
export async function noteLook(db: Db, look: { code: string; by: string; what: string }): Promise<void> {
  const before = await db
    .selectFrom("deed")
    .select("id")
    .where("study_code", "=", look.code)
    .where("at", ">", new Date(Date.now() - lookMs).toISOString())
    .where("by_whom", "=", look.by)
    .where("what", "=", look.what)
    .limit(1)
    .executeTakeFirst();
  if (!before) await noteDeed(db, { ...look, kind: "opened" });
}

/** Deeds shown at once. */
const aPage = 200;

/** The deeds in a study from one time on, newest first; of one kind, or all; a page of them, from 1. */
export async function deedsIn(
  { db }: Pick<Store, "db">,
  study: { id: string; code: string },
  { kind, page = 1 }: { kind?: DeedKind; page?: number } = {},
): Promise<Deed[]> {
  let query = db
    .selectFrom("deed")
    .selectAll()
    .where("study_code", "=", study.code)
    // A code can be given out again after its study was deleted.
    .where("at", ">=", ({ selectFrom }) => selectFrom("study").select("created_at").where("id", "=", study.id))
    .orderBy("at", "desc")
    .orderBy("id")
    .limit(aPage)
    .offset((page - 1) * aPage);
  if (kind) query = query.where("kind", "=", kind);
  return (await query.execute()).map((row) => ({ at: row.at, by: row.by_whom, what: row.what, kind: row.kind }));
}
