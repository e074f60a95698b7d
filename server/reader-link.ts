import { newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";
import { noteDeed } from "./study-log";

/** Makes the link by which a design is read without an account, in place of any before, or ends it; gives its secret. */
export async function setReaderLink(
  { db }: Store,
  study: { id: string; code: string },
  isOpen: boolean,
  by: string,
): Promise<string | null> {
  const secret = isOpen ? newSecret() : null;
  await db.transaction().execute(async (trx) => {
    await trx
      .updateTable("study")
      .set({ reader_hash: secret === null ? null : secretHash(secret) })
      .where("id", "=", study.id)
      .execute();
    const what = isOpen
      ? "Whoever has the reading link can see the design, without an account."
      : "The reading link was ended.";
    await noteDeed(trx, { code: study.code, by, what, kind: "rights" });
  });
  return secret;
}

/** Whether a design can be read by a link. */
export async function hasReaderLink({ db }: Store, studyId: string): Promise<boolean> {
  const row = await db.selectFrom("study").select("reader_hash").where("id", "=", studyId).executeTakeFirst();
  return row?.reader_hash != null;
}

/** The study whose design a reading link's secret opens: its id and code; null for anything else. */
export async function studyOfReader({ db }: Store, secret: string): Promise<{ id: string; code: string } | null> {
  const row = await db
    .selectFrom("study")
    .select(["id", "code"])
    .where("reader_hash", "=", secretHash(secret))
    .where("binned_at", "is", null)
    .executeTakeFirst();
  return row ?? null;
}
