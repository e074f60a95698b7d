import { mayDo, type Right } from "../core/rights/rights";
import type { Account } from "./accounts";
import { newId, newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";
import { rolesIn } from "./rights";
import { noteDeed } from "./study-log";

/** A key with which a program reads a study's data. The key itself is shown once, when it is made; its hash is stored. */
export type ScriptKey = {
  id: string;
  name: string;
  accountId: string;
  owner: string;
  since: string;
  expiresAt: string;
  usedAt: string | null;
  /** Whether it opens anything: it is not too old, and whoever made it may still see results. */
  opens: boolean;
};

/** How long a key may last at most, in days. */
export const mostKeyDays = 366;
/** So many keys a study has at most. */
const mostKeys = 50;
/** What a key opens, where its owner may: reading the data, and nothing else. */
export const keyRight: Right = "see-results";
const [minute, day] = [60_000, 86_400_000];
const prefix = "lapwing-";

type OfStudy = { id: string; code: string };

/** The keys of a study, newest first. */
export async function keysOf({ db }: Store, studyId: string): Promise<ScriptKey[]> {
  const rows = await db
    .selectFrom("script_key")
    .innerJoin("account", "account.id", "script_key.account_id")
    .selectAll("script_key")
    .select("account.name as owner")
    .where("study_id", "=", studyId)
    .orderBy("since", "desc")
    .execute();
  const mayStill = new Map<string, boolean>();
  for (const id of new Set(rows.map(({ account_id }) => account_id)))
    mayStill.set(id, mayDo(await rolesIn(db, id, studyId), keyRight));
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    accountId: row.account_id,
    owner: row.owner,
    since: row.since,
    expiresAt: row.expires_at,
    usedAt: row.used_at,
    opens: Date.parse(row.expires_at) > Date.now() && mayStill.get(row.account_id) === true,
  }));
}

/** Makes a key that works for so many days; gives it, this once. */
export async function makeKey(
  { db }: Store,
  study: OfStudy,
  account: Pick<Account, "id">,
  { name, days, by }: { name: string; days: number; by: string },
): Promise<{ key: string } | { reason: string }> {
  const key = `${prefix}${newSecret()}`;
  return db.transaction().execute(async (trx) => {
    const { count } = await trx
      .selectFrom("script_key")
      .select(({ fn }) => fn.countAll<number>().as("count"))
      .where("study_id", "=", study.id)
      .executeTakeFirstOrThrow();
    if (Number(count) >= mostKeys) return { reason: `A study has at most ${mostKeys} keys. End one first.` };
    await trx
      .insertInto("script_key")
      .values({
        id: newId("key"),
        study_id: study.id,
        account_id: account.id,
        name,
        key_hash: secretHash(key),
        since: new Date().toISOString(),
        expires_at: new Date(Date.now() + days * day).toISOString(),
        used_at: null,
      })
      .execute();
    const what = `The key “${name}” was made, for ${days} ${days === 1 ? "day" : "days"}.`;
    await noteDeed(trx, { code: study.code, by, what, kind: "key" });
    return { key };
  });
}

/** Ends a key: one's own, or as `anyones` whoever's. */
export async function endKey(
  { db }: Store,
  study: OfStudy,
  keyId: string,
  { account, anyones, by }: { account: string; anyones: boolean; by: string },
): Promise<string | null> {
  return db.transaction().execute(async (trx) => {
    let query = trx.deleteFrom("script_key").where("id", "=", keyId).where("study_id", "=", study.id);
    if (!anyones) query = query.where("account_id", "=", account);
    const ended = await query.returning("name").executeTakeFirst();
    if (!ended) return "There is no such key of yours.";
    await noteDeed(trx, { code: study.code, by, what: `The key “${ended.name}” was ended.`, kind: "key" });
    return null;
  });
}

/** Whose key this is, for a study: its owner, while the key works and its owner may still see what it opens. */
export async function accountOfKey(
  { db }: Store,
  key: string,
  studyId: string,
): Promise<(Account & { key: string }) | null> {
  if (!key.startsWith(prefix)) return null;
  const now = new Date();
  const row = await db
    .selectFrom("script_key")
    .innerJoin("account", "account.id", "script_key.account_id")
    .select(["script_key.id as key", "script_key.name as key_name", "used_at"])
    .select(["account.id", "account.email", "account.name", "account.is_demo", "account.is_admin"])
    .where("key_hash", "=", secretHash(key))
    .where("study_id", "=", studyId)
    .where("script_key.expires_at", ">", now.toISOString())
    .where("account.closed_at", "is", null)
    .executeTakeFirst();
  if (!row || !mayDo(await rolesIn(db, row.id, studyId), keyRight)) return null;
  if (Date.parse(row.used_at ?? "1970-01-01") < now.getTime() - minute)
    await db.updateTable("script_key").set({ used_at: now.toISOString() }).where("id", "=", row.key).execute();
  return {
    ...{ id: row.id, email: row.email, name: row.name, key: row.key_name },
    isDemo: row.is_demo === 1,
    isAdmin: row.is_admin === 1,
  };
}
