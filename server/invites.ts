import type { Account, SignedIn } from "./accounts";
import type { SigningIn } from "./sign-ins";
import { createAccount, resetPassword, signIn } from "./accounts";
import { newSecret, secretHash } from "./chance";
import type { Store } from "./database/open";

/** A link that works once: by which somebody makes an account, or sets a forgotten password anew. */
export type Invite = { kind: "account" | "password"; email: string; since: string; by: string; expiresAt: string };

/** How long each kind works, in days. */
export const inviteDays = { account: 14, password: 2 } as const;
const day = 86_400_000;
const mostAtOnce = 500;

/** Makes an invitation for whoever is given its link; gives the secret of the link, this once. */
export async function invite(
  { db }: Store,
  { email, by }: { email: string; by: string },
): Promise<{ secret: string } | { reason: string }> {
  const to = email.trim().toLowerCase();
  const there =
    to === "" ? undefined : await db.selectFrom("account").select("id").where("email", "=", to).executeTakeFirst();
  if (there) return { reason: `There is already an account with the address ${to}.` };
  await sweep(db);
  const { count } = await db
    .selectFrom("invite")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .executeTakeFirstOrThrow();
  if (Number(count) >= mostAtOnce)
    return { reason: `At most ${mostAtOnce} invitations can be open at once. Take some back.` };
  // A new one for the same person takes the place of the one before.
  if (to !== "") await db.deleteFrom("invite").where("kind", "=", "account").where("email", "=", to).execute();
  return { secret: await add(db, { kind: "account", email: to, account_id: null, by }) };
}

/** Makes a link by which an account's password is set anew, in place of any before. */
export async function forgotten({ db }: Store, account: Pick<Account, "id" | "email">, by: string): Promise<string> {
  await sweep(db);
  await db.deleteFrom("invite").where("kind", "=", "password").where("account_id", "=", account.id).execute();
  return add(db, { kind: "password", email: account.email, account_id: account.id, by });
}

async function add(
  db: Store["db"],
  { kind, email, account_id, by }: { kind: Invite["kind"]; email: string; account_id: string | null; by: string },
): Promise<string> {
  const secret = newSecret();
  const now = Date.now();
  await db
    .insertInto("invite")
    .values({
      ...{ kind, email, account_id, by_whom: by },
      token_hash: secretHash(secret),
      since: new Date(now).toISOString(),
      expires_at: new Date(now + inviteDays[kind] * day).toISOString(),
    })
    .execute();
  return secret;
}

const sweep = (db: Store["db"]) => db.deleteFrom("invite").where("expires_at", "<", new Date().toISOString()).execute();

const open = (db: Store["db"]) =>
  db.selectFrom("invite").selectAll().where("expires_at", ">", new Date().toISOString());

type Row = {
  token_hash: string;
  kind: Invite["kind"];
  email: string;
  since: string;
  by_whom: string;
  expires_at: string;
};
const told = ({ kind, email, since, by_whom, expires_at }: Row): Invite => ({
  ...{ kind, email, since },
  by: by_whom,
  expiresAt: expires_at,
});

/** What a link's secret opens; null for one that was used, taken back or has expired. */
export async function inviteOf({ db }: Store, secret: string): Promise<Invite | null> {
  const row = await open(db).where("token_hash", "=", secretHash(secret)).executeTakeFirst();
  return row ? told(row) : null;
}

/** The invitations that are open, newest first, each with a name by which it is taken back. */
export async function openInvites({ db }: Store): Promise<(Invite & { id: string })[]> {
  const rows = await open(db).where("kind", "=", "account").orderBy("since", "desc").execute();
  return rows.map((row) => ({ ...told(row), id: row.token_hash.slice(0, 16) }));
}

/** Takes an invitation back. */
export async function takeBack({ db }: Store, id: string): Promise<void> {
  if (!/^[0-9a-f]{16}$/.test(id)) return;
  await db.deleteFrom("invite").where("token_hash", "like", `${id}%`).where("kind", "=", "account").execute();
}

const usedUp = { ok: false, reason: "This link was used already, or it is too old. Ask for a new one." } as const;

/** Makes the account of an invitation, and signs in to it. Its link works no more, also where many use it at once. */
export async function acceptInvite(
  store: Store,
  secret: string,
  { email, name, password }: { email: string; name: string; password: string },
  where: SigningIn,
): Promise<SignedIn> {
  if ((await inviteOf(store, secret))?.kind !== "account") return usedUp;
  const used = await take(store, secret);
  if (!used) return usedUp;
  const made = await createAccount(store, email, name, password, { where });
  if (made.ok) return made;
  // It was of no use: the link stays, so that another address can be given.
  await store.db.insertInto("invite").values(used).execute();
  return made;
}

/** Sets a forgotten password anew by a link, and signs in. */
export async function acceptForgotten(
  store: Store,
  secret: string,
  password: string,
  where: SigningIn,
): Promise<SignedIn> {
  if ((await inviteOf(store, secret))?.kind !== "password") return usedUp;
  const used = await take(store, secret);
  const account =
    used?.account_id &&
    (await store.db
      .selectFrom("account")
      .select(["id", "email"])
      .where("id", "=", used.account_id)
      .where("closed_at", "is", null)
      .executeTakeFirst());
  if (!account) return usedUp;
  await resetPassword(store, account.id, password);
  return signIn(store, account.email, password, where);
}

const take = ({ db }: Store, secret: string) =>
  db.deleteFrom("invite").where("token_hash", "=", secretHash(secret)).returningAll().executeTakeFirst();
