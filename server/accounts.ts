import { hash, verify } from "@node-rs/argon2";
import type { Transaction } from "kysely";
import { mostPassword } from "../core/shape/password";
import { newId, secretHash } from "./chance";
import { lockAccounts } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { removeFactor, takeCode } from "./second-factor";
import { endSignIns, idleMs, openSignIn, signOut, type SigningIn } from "./sign-ins";

export type Account = { id: string; email: string; name: string; isDemo: boolean; isAdmin: boolean };
/** `needsCode`: the password was right, and a code of the account's app is asked for too. */
export type SignedIn = { ok: true; account: Account; secret: string } | { ok: false; reason: string; needsCode?: true };

/** argon2id with OWASP's parameters of 2024: 19 MiB, two passes, one lane. */
const argon = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
const [minute, day] = [60_000, 86_400_000];
/** So many wrong passwords are free; each one after that doubles the wait, from this on. */
const [freeTries, firstWaitMs, longestWaitMs] = [5, 5000, 15 * minute];
/** From one address, for all accounts together. */
const mostFromOne = { tries: 60, withinMs: 15 * minute };

const later = (ms: number) => new Date(Date.now() + ms).toISOString();
const normal = (email: string) => email.trim().toLowerCase();

/** Whether anyone can sign in; the account of the demo data counts only in a demo. */
export async function hasAccounts({ db }: Store, isDemo = true): Promise<boolean> {
  let query = db.selectFrom("account").select("id").limit(1);
  if (!isDemo) query = query.where("is_demo", "=", 0);
  return (await query.executeTakeFirst()) !== undefined;
}

/** Makes an account and signs in to it; the reason where the address is taken. The password is checked by the caller's form. */
export const createAccount = (
  store: Store,
  email: string,
  name: string,
  password: string,
  { isDemo = false, where }: { isDemo?: boolean; where?: SigningIn } = {},
): Promise<SignedIn> => add(store, { email, name, password, isDemo, isFirst: false, where });

/** The very first account, only while there is none: several at once make one. */
export const createFirstAccount = (
  store: Store,
  email: string,
  name: string,
  password: string,
  where?: SigningIn,
): Promise<SignedIn> => add(store, { email, name, password, isDemo: false, isFirst: true, where });

type NewAccount = {
  email: string;
  name: string;
  password: string;
  isDemo: boolean;
  isFirst: boolean;
  where?: SigningIn | undefined;
};

async function add(store: Store, { email, name, password, isDemo, isFirst, where }: NewAccount): Promise<SignedIn> {
  const account = { id: newId("account"), email: normal(email), name, isDemo, isAdmin: false };
  const password_hash = await hash(password, argon);
  return store.db.transaction().execute(async (trx): Promise<SignedIn> => {
    await lockAccounts(trx);
    const there = await trx.selectFrom("account").select("id").where("is_demo", "=", 0).executeTakeFirst();
    if (isFirst && there) return { ok: false, reason: "This Lapwing already has an account. Sign in instead." };
    // Whoever is here first runs it, and invites the others.
    account.isAdmin = !isDemo && !there;
    const made = await trx
      .insertInto("account")
      .values({
        id: account.id,
        email: account.email,
        name,
        password_hash,
        is_demo: isDemo ? 1 : 0,
        is_admin: account.isAdmin ? 1 : 0,
        created_at: later(0),
        closed_at: null,
      })
      .onConflict((conflict) => conflict.column("email").doNothing())
      .executeTakeFirst();
    if (made.numInsertedOrUpdatedRows === 0n)
      return { ok: false, reason: "There is already an account with this address. Sign in instead." };
    return { ok: true, account, secret: await openSignIn(trx, account.id, where ?? { from: "" }) };
  });
}

/**
 * Checks a password. Each try is counted before it is checked, so that many at once gain nothing; wrong ones make the next
 * from the same computer to the same account wait, longer each time, and nobody else.
 */
export async function signIn(store: Store, email: string, password: string, where: SigningIn): Promise<SignedIn> {
  const { db } = store;
  const pair = `pair:${normal(email).slice(0, 200)} ${where.from}`;
  const counted = await db.transaction().execute(async (trx) => countTry(trx, pair, `from:${where.from}`));
  if (!counted.ok) return counted;
  const account = await db
    .selectFrom("account")
    .selectAll()
    .where("email", "=", normal(email))
    .where("closed_at", "is", null)
    .executeTakeFirst();
  const kept = account?.password_hash ?? (await unknownHash);
  const matches = await inTurn(() => verify(kept, password.slice(0, mostPassword))).catch(() => false);
  if (!account || !matches) return { ok: false, reason: "The address or the password is not right." };
  if (account.totp !== null && !where.code) {
    // Not a wrong try; the next one, with the code, is counted by itself.
    await db.deleteFrom("sign_in_try").where("id", "=", counted.id).execute();
    await db.deleteFrom("sign_in_try").where("id", "=", counted.pairId).execute();
    return { ok: false, reason: "Type the code your app shows just now.", needsCode: true };
  }
  if (account.totp !== null && !(await takeCode(store, { id: account.id, totp: account.totp }, where.code ?? "")))
    return { ok: false, reason: "The code is not right, or it was used already. Wait for the next.", needsCode: true };
  return db.transaction().execute(async (trx): Promise<SignedIn> => {
    await trx.deleteFrom("sign_in_try").where("id", "=", counted.id).execute();
    await trx.deleteFrom("sign_in_try").where("subject", "=", pair).execute();
    return { ok: true, account: asAccount(account), secret: await openSignIn(trx, account.id, where) };
  });
}

async function countTry(
  trx: Transaction<Tables>,
  pair: string,
  from: string,
): Promise<{ ok: true; id: number; pairId: number } | { ok: false; reason: string }> {
  await lockAccounts(trx);
  const { count: all } = await trx
    .selectFrom("sign_in_try")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("subject", "=", from)
    .where("at", ">", later(-mostFromOne.withinMs))
    .executeTakeFirstOrThrow();
  if (Number(all) >= mostFromOne.tries)
    return { ok: false, reason: "Too many tries from this computer. Wait 15 minutes, then try again." };
  const tries = await trx
    .selectFrom("sign_in_try")
    .select(({ fn }) => [fn.countAll<number>().as("count"), fn.max("at").as("last")])
    .where("subject", "=", pair)
    .where("at", ">", later(-day))
    .executeTakeFirstOrThrow();
  const beyond = Number(tries.count) - freeTries;
  const wait = beyond < 0 ? 0 : Math.min(longestWaitMs, firstWaitMs * 2 ** beyond);
  const left = Date.parse(tries.last ?? "1970-01-01") + wait - Date.now();
  if (left > 0) return { ok: false, reason: `Too many tries. Wait ${inWords(left)}, then try again.` };
  const at = later(0);
  const made = await trx
    .insertInto("sign_in_try")
    .values([
      { subject: from, at },
      { subject: pair, at },
    ])
    .returning("id")
    .execute();
  return { ok: true, id: made[0]?.id ?? 0, pairId: made[1]?.id ?? 0 };
}

const inWords = (ms: number): string =>
  ms > minute ? `${Math.ceil(ms / minute)} minutes` : `${Math.max(1, Math.ceil(ms / 1000))} seconds`;

/** Passwords are checked one after the other: each takes a processor's time and much memory. */
let checking: Promise<unknown> = Promise.resolve();
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const mine = checking.then(work);
  checking = mine.catch(() => undefined);
  return mine;
}

/** Checked when there is no such account, so that both cases take as long. */
const unknownHash = hash("nobody", argon);

export async function demoAccount({ db }: Store): Promise<Account | null> {
  const found = await db
    .selectFrom("account")
    .selectAll()
    .where("is_demo", "=", 1)
    .orderBy("created_at")
    .executeTakeFirst();
  return found ? asAccount(found) : null;
}

/** Signs in to the demo account without a password; null where there is no demo data. */
export async function lookAround(store: Store, where: SigningIn = { from: "" }): Promise<string | null> {
  const account = await demoAccount(store);
  return account ? openSignIn(store.db, account.id, where) : null;
}

/** Signs in to an account of whose owner something else has made sure. */
export async function signInAs(store: Store, accountId: string, where: SigningIn): Promise<SignedIn> {
  const account = await accountById(store, accountId);
  if (!account || account.isClosed) return { ok: false, reason: "This account is closed." };
  return { ok: true, account, secret: await openSignIn(store.db, accountId, where) };
}

/** The account a sign-in's secret opens, whose time without use begins anew with that. */
export async function accountOfSecret({ db }: Pick<Store, "db">, secret: string): Promise<Account | null> {
  const token = secretHash(secret);
  const found = await db
    .selectFrom("sign_in")
    .innerJoin("account", "account.id", "sign_in.account_id")
    .selectAll("account")
    .select(["sign_in.seen_at", "sign_in.stays"])
    .where("sign_in.token_hash", "=", token)
    .where("sign_in.expires_at", ">", later(0))
    .where("account.closed_at", "is", null)
    .executeTakeFirst();
  if (!found) return null;
  if (Date.parse(found.seen_at || "1970-01-01") < Date.now() - minute)
    await db
      .updateTable("sign_in")
      .set({ seen_at: later(0), expires_at: later(found.stays === 1 ? idleMs.long : idleMs.short) })
      .where("token_hash", "=", token)
      .execute();
  return asAccount(found);
}

/** Whether this is an account's password, as who is signed in to it types it again; a wrong one counts as a try. */
export async function isPassword(
  store: Store,
  account: Pick<Account, "email">,
  present: string,
  where: SigningIn,
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const checked = await signIn(store, account.email, present, where);
  if (checked.ok) await signOut(store, checked.secret);
  if (checked.ok || checked.needsCode) return { ok: true };
  return { ok: false, reason: checked.reason.startsWith("Too many") ? checked.reason : "This is not your password." };
}

/** Changes a password, given the present one, and ends all other sign-ins; the reason where the present one is not right. */
export async function changePassword(
  store: Store,
  account: Account,
  present: string,
  fresh: string,
  where: SigningIn & { secret: string | null },
): Promise<{ ok: true } | { ok: false; reason: string }> {
  const checked = await isPassword(store, account, present, where);
  if (!checked.ok) return checked;
  await setPassword(store, account.id, fresh);
  await endSignIns(store, account.id, { allBut: where.secret });
  return { ok: true };
}

/** Sets a password, asks for no code any more, and ends all sign-ins: for whoever runs the server. */
export async function openAnew(store: Store, accountId: string, fresh: string): Promise<void> {
  await removeFactor(store, accountId);
  await resetPassword(store, accountId, fresh);
}

/** Sets a password and ends all sign-ins. */
export async function resetPassword(store: Store, accountId: string, fresh: string): Promise<void> {
  await setPassword(store, accountId, fresh);
  await endSignIns(store, accountId, { allBut: null });
}

async function setPassword({ db }: Store, accountId: string, fresh: string): Promise<void> {
  await db
    .updateTable("account")
    .set({ password_hash: await hash(fresh, argon), closed_at: null })
    .where("id", "=", accountId)
    .execute();
}

/** Closes an account: nobody can sign in to it any more. Its studies stay. */
export async function closeAccount(store: Store, accountId: string): Promise<void> {
  await store.db
    .updateTable("account")
    .set({ closed_at: later(0) })
    .where("id", "=", accountId)
    .execute();
  await endSignIns(store, accountId, { allBut: null });
}

type Known = Account & { isClosed: boolean };

export async function accountByEmail({ db }: Store, email: string): Promise<Known | null> {
  const found = await db.selectFrom("account").selectAll().where("email", "=", normal(email)).executeTakeFirst();
  return found ? { ...asAccount(found), isClosed: found.closed_at !== null } : null;
}

export async function accountById({ db }: Store, id: string): Promise<Known | null> {
  const found = await db.selectFrom("account").selectAll().where("id", "=", id).executeTakeFirst();
  return found ? { ...asAccount(found), isClosed: found.closed_at !== null } : null;
}

const asAccount = (row: { id: string; email: string; name: string; is_demo: 0 | 1; is_admin: 0 | 1 }): Account => ({
  id: row.id,
  email: row.email,
  name: row.name,
  isDemo: row.is_demo === 1,
  isAdmin: row.is_admin === 1,
});
