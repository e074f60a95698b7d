import { hash, verify } from "@node-rs/argon2";
import { newId, newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";

export type Account = { id: string; email: string; name: string; isDemo: boolean };
export type SignedIn = { ok: true; account: Account; secret: string } | { ok: false; reason: string };

/** argon2id with OWASP's parameters of 2024: 19 MiB, two passes, one lane. */
const argon = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
const daysSignedIn = 30;
const mostTries = 8;
const minutesOfTries = 15;

const later = (ms: number) => new Date(Date.now() + ms).toISOString();
const normal = (email: string) => email.trim().toLowerCase();

export async function hasAccounts({ db }: Store): Promise<boolean> {
  return (await db.selectFrom("account").select("id").limit(1).executeTakeFirst()) !== undefined;
}

/** Makes an account; the reason where the address is taken. The password is checked by the caller's form. */
export async function createAccount(
  { db }: Store,
  email: string,
  name: string,
  password: string,
  isDemo = false,
): Promise<SignedIn> {
  const id = newId("account");
  const made = await db
    .insertInto("account")
    .values({
      id,
      email: normal(email),
      name,
      password_hash: await hash(password, argon),
      is_demo: isDemo ? 1 : 0,
      created_at: later(0),
    })
    .onConflict((conflict) => conflict.column("email").doNothing())
    .executeTakeFirst();
  if (made.numInsertedOrUpdatedRows === 0n)
    return { ok: false, reason: "There is already an account with this address. Sign in instead." };
  return {
    ok: true,
    account: { id, email: normal(email), name, isDemo },
    secret: await openSignIn({ db } as Store, id),
  };
}

/** The very first account, only while there is none. */
export async function createFirstAccount(
  store: Store,
  email: string,
  name: string,
  password: string,
): Promise<SignedIn> {
  if (await hasAccounts(store)) return { ok: false, reason: "This Lapwing already has an account. Sign in instead." };
  return createAccount(store, email, name, password);
}

/** Checks a password. After too many wrong ones for this address or from this computer, waits are asked for. */
export async function signIn(store: Store, email: string, password: string, from: string): Promise<SignedIn> {
  const { db } = store;
  const subjects = [`email:${normal(email)}`, `from:${from}`];
  const since = later(-minutesOfTries * 60_000);
  const tries = await db
    .selectFrom("sign_in_try")
    .select(({ fn }) => ["subject", fn.countAll<number>().as("count")])
    .where("subject", "in", subjects)
    .where("at", ">", since)
    .groupBy("subject")
    .execute();
  if (tries.some(({ subject, count }) => count >= (subject.startsWith("from:") ? mostTries * 4 : mostTries)))
    return { ok: false, reason: `Too many tries. Wait ${minutesOfTries} minutes, then try again.` };
  const account = await db.selectFrom("account").selectAll().where("email", "=", normal(email)).executeTakeFirst();
  const matches = await verify(account?.password_hash ?? (await unknownHash), password).catch(() => false);
  if (!account || !matches) {
    await db
      .insertInto("sign_in_try")
      .values(subjects.map((subject) => ({ subject, at: later(0) })))
      .execute();
    await db.deleteFrom("sign_in_try").where("at", "<", later(-86_400_000)).execute();
    return { ok: false, reason: "The address or the password is not right." };
  }
  await db
    .deleteFrom("sign_in_try")
    .where("subject", "=", subjects[0] as string)
    .execute();
  return { ok: true, account: asAccount(account), secret: await openSignIn(store, account.id) };
}

/** Checked when there is no such account, so that both cases take as long. */
const unknownHash = hash("nobody", argon);

export async function demoAccount({ db }: Store): Promise<Account | null> {
  const found = await db.selectFrom("account").selectAll().where("is_demo", "=", 1).executeTakeFirst();
  return found ? asAccount(found) : null;
}

/** Signs in to the demo account without a password; null where there is no demo data. */
export async function lookAround(store: Store): Promise<string | null> {
  const account = await demoAccount(store);
  return account ? openSignIn(store, account.id) : null;
}

async function openSignIn({ db }: Store, accountId: string): Promise<string> {
  const secret = newSecret();
  await db.deleteFrom("sign_in").where("expires_at", "<", later(0)).execute();
  await db
    .insertInto("sign_in")
    .values({ token_hash: secretHash(secret), account_id: accountId, expires_at: later(daysSignedIn * 86_400_000) })
    .execute();
  return secret;
}

export async function accountOfSecret({ db }: Store, secret: string): Promise<Account | null> {
  const found = await db
    .selectFrom("sign_in")
    .innerJoin("account", "account.id", "sign_in.account_id")
    .selectAll("account")
    .where("sign_in.token_hash", "=", secretHash(secret))
    .where("sign_in.expires_at", ">", later(0))
    .executeTakeFirst();
  return found ? asAccount(found) : null;
}

export async function signOut({ db }: Store, secret: string): Promise<void> {
  await db.deleteFrom("sign_in").where("token_hash", "=", secretHash(secret)).execute();
}

export async function accountByEmail({ db }: Store, email: string): Promise<Account | null> {
  const found = await db.selectFrom("account").selectAll().where("email", "=", normal(email)).executeTakeFirst();
  return found ? asAccount(found) : null;
}

const asAccount = ({
  id,
  email,
  name,
  is_demo,
}: {
  id: string;
  email: string;
  name: string;
  is_demo: 0 | 1;
}): Account => ({ id, email, name, isDemo: is_demo === 1 });
