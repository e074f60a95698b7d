import { accountByEmail, createAccount, signInAs } from "./accounts";
import { signOut, type SigningIn } from "./sign-ins";
import { newSecret } from "./chance";
import type { Store } from "./database/open";
import type { Told } from "./provider";

/** Why somebody whom a provider tells of is not signed in. */
export type WhyNotProvided = "unverified" | "unknown" | "another" | "closed";

/**
 * Signs in whom a provider tells of: the account that came by it before, else the one with the address where the provider has
 * verified that, else a new one where an administrator has invited that address. Nobody else.
 */
export async function signInProvided(
  store: Store,
  told: Told,
  where: SigningIn,
): Promise<{ ok: true; secret: string } | { ok: false; why: WhyNotProvided }> {
  const { db } = store;
  const enter = async (id: string) => {
    const entered = await signInAs(store, id, where);
    return entered.ok ? { ok: true as const, secret: entered.secret } : { ok: false as const, why: "closed" as const };
  };
  const before = await db.selectFrom("account").select("id").where("subject", "=", told.subject).executeTakeFirst();
  if (before) return enter(before.id);
  const { email } = told;
  if (email === null || !told.isVerified) return { ok: false, why: "unverified" };
  const there = (await accountByEmail(store, email)) ?? (await invited(store, email, told.name));
  if (!there || there.isDemo) return { ok: false, why: "unknown" };
  const { numUpdatedRows } = await db
    .updateTable("account")
    .set({ subject: told.subject })
    .where("id", "=", there.id)
    .where("subject", "is", null)
    .executeTakeFirst();
  // An address that was given to somebody else since opens nothing of who had it before.
  return numUpdatedRows === 0n ? { ok: false, why: "another" } : enter(there.id);
}

/** The account that an open invitation of this address makes; its password is nobody's, and can be set as a forgotten one. */
async function invited(store: Store, email: string, name: string) {
  const used = await store.db
    .deleteFrom("invite")
    .where("kind", "=", "account")
    .where("email", "=", email)
    .where("expires_at", ">", new Date().toISOString())
    .returning("email")
    .executeTakeFirst();
  if (!used) return null;
  const made = await createAccount(store, email, name, newSecret());
  if (!made.ok) return null;
  await signOut(store, made.secret);
  return accountByEmail(store, email);
}
