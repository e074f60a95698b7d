import type { Transaction } from "kysely";
import { newId, newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

/** Where someone signs in, and whether they want to stay signed in. */
export type SigningIn = { from: string; browser?: string; stays?: boolean; code?: string };

const [hour, day] = [3_600_000, 86_400_000];
/** A sign-in ends after so long without use. */
export const idleMs = { short: 12 * hour, long: 30 * day };

const later = (ms: number) => new Date(Date.now() + ms).toISOString();

/** Opens a sign-in of an account; gives its secret. */
export async function openSignIn(
  db: Store["db"] | Transaction<Tables>,
  accountId: string,
  { from, browser = "", stays = false }: SigningIn,
): Promise<string> {
  const secret = newSecret();
  await db.deleteFrom("sign_in").where("expires_at", "<", later(0)).execute();
  await db
    .insertInto("sign_in")
    .values({
      token_hash: secretHash(secret),
      account_id: accountId,
      expires_at: later(stays ? idleMs.long : idleMs.short),
      id: newId("in"),
      stays: stays ? 1 : 0,
      since: later(0),
      seen_at: later(0),
      from_address: from.slice(0, 100),
      browser: browser.slice(0, 300),
    })
    .execute();
  return secret;
}

/** Ends the sign-in of a secret. */
export async function signOut({ db }: Store, secret: string): Promise<void> {
  await db.deleteFrom("sign_in").where("token_hash", "=", secretHash(secret)).execute();
}

export type OpenSignIn = {
  id: string;
  since: string;
  seenAt: string;
  stays: boolean;
  from: string;
  browser: string;
  /** The one that asks. */
  isThis: boolean;
};

/** Where an account is signed in now, the latest used first. */
export async function listSignIns({ db }: Store, accountId: string, secret: string | null): Promise<OpenSignIn[]> {
  const rows = await db
    .selectFrom("sign_in")
    .selectAll()
    .where("account_id", "=", accountId)
    .where("expires_at", ">", later(0))
    .orderBy("seen_at", "desc")
    .limit(100)
    .execute();
  const mine = secret === null ? "" : secretHash(secret);
  return rows.map((row) => ({
    id: row.id,
    since: row.since,
    seenAt: row.seen_at,
    stays: row.stays === 1,
    from: row.from_address,
    browser: row.browser,
    isThis: row.token_hash === mine,
  }));
}

/** Ends one of an account's sign-ins, or all but the one that asks. */
export async function endSignIns(
  { db }: Store,
  accountId: string,
  which: { id: string } | { allBut: string | null },
): Promise<void> {
  let query = db.deleteFrom("sign_in").where("account_id", "=", accountId);
  if ("id" in which) query = query.where("id", "=", which.id);
  else if (which.allBut !== null) query = query.where("token_hash", "!=", secretHash(which.allBut));
  await query.execute();
}
