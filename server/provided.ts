import { accountByEmail, createAccount, signInAs, type SignedIn, type SigningIn } from "./accounts";
import { newSecret } from "./chance";
import type { Store } from "./database/open";
import type { Told } from "./provider";

/**
 * Signs in whom a provider tells of: the account that came by it before, else the one with the address where the provider has
 * verified that, else a new one where an administrator has invited that address. Nobody else.
 */
export async function signInProvided(store: Store, told: Told, where: SigningIn): Promise<SignedIn> {
  const { db } = store;
  const before = await db.selectFrom("account").select("id").where("subject", "=", told.subject).executeTakeFirst();
  if (before) return signInAs(store, before.id, where);
  const { email } = told;
  if (email === null || !told.isVerified)
    return {
      ok: false,
      reason:
        "The provider does not say which e-mail address is yours. Sign in with your password, or ask an administrator.",
    };
  const there = (await accountByEmail(store, email)) ?? (await invited(store, email, told.name));
  if (!there || there.isDemo)
    return { ok: false, reason: `Nobody here has the address ${email}. An administrator can invite you.` };
  await db
    .updateTable("account")
    .set({ subject: told.subject })
    .where("id", "=", there.id)
    .where("subject", "is", null)
    .execute();
  return signInAs(store, there.id, where);
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
  return made.ok ? accountByEmail(store, email) : null;
}
