import { storedRoles } from "../core/rights/rights";
import { closeAccount } from "./accounts";
import { lockAccounts } from "./database/locked";
import type { Store } from "./database/open";
import { leaveAll } from "./labs";
import { noteDeed } from "./study-log";

/** An account as an administrator sees it. */
export type ListedAccount = {
  id: string;
  email: string;
  name: string;
  isAdmin: boolean;
  isClosed: boolean;
  since: string;
  /** When it was last used, as far as it is signed in anywhere. */
  seenAt: string | null;
  /** How many studies it owns. */
  studies: number;
};

/** All accounts but the demo's, by name; those that are closed last. */
export async function listAccounts({ db }: Store): Promise<ListedAccount[]> {
  const rows = await db
    .selectFrom("account")
    .select(["id", "email", "name", "is_admin", "closed_at", "created_at"])
    .select(({ selectFrom }) => [
      selectFrom("sign_in")
        .select(({ fn }) => fn.max("seen_at").as("seen"))
        .whereRef("sign_in.account_id", "=", "account.id")
        .as("seen"),
      selectFrom("study")
        .select(({ fn }) => fn.countAll<number>().as("count"))
        .whereRef("study.owner_id", "=", "account.id")
        .as("studies"),
    ])
    .where("is_demo", "=", 0)
    .orderBy("name")
    .execute();
  const listed = rows.map((row) => ({
    ...{ id: row.id, email: row.email, name: row.name, since: row.created_at },
    isAdmin: row.is_admin === 1,
    isClosed: row.closed_at !== null,
    seenAt: row.seen === "" ? null : row.seen,
    studies: Number(row.studies),
  }));
  return [...listed.filter(({ isClosed }) => !isClosed), ...listed.filter(({ isClosed }) => isClosed)];
}

/** Makes somebody an administrator, or no more; there is always one. Gives why it cannot be. */
export async function setAdmin({ db }: Store, accountId: string, isAdmin: boolean): Promise<string | null> {
  return db.transaction().execute(async (trx) => {
    await lockAccounts(trx);
    const admins = await trx
      .selectFrom("account")
      .select("id")
      .where("is_admin", "=", 1)
      .where("closed_at", "is", null)
      .execute();
    if (!isAdmin && admins.every(({ id }) => id === accountId))
      return "There is always an administrator. Make somebody else one first.";
    await trx
      .updateTable("account")
      .set({ is_admin: isAdmin ? 1 : 0 })
      .where("id", "=", accountId)
      .where("is_demo", "=", 0)
      .execute();
    return null;
  });
}

/**
 * Closes an account. Its studies are not lost: each goes to another of its owners, or to the person who is named. Gives why
 * it cannot be.
 */
export async function closeAndHandOver(
  store: Store,
  accountId: string,
  to: { id: string; by: string },
): Promise<string | null> {
  if (to.id === accountId) return "An account cannot be closed by itself: another administrator closes it.";
  const refused = await store.db.transaction().execute(async (trx) => {
    await lockAccounts(trx);
    const heir = await trx
      .selectFrom("account")
      .select(["id", "name", "email"])
      .where("id", "=", to.id)
      .where("closed_at", "is", null)
      .executeTakeFirst();
    if (!heir) return "The studies go to somebody who is here. Choose another person.";
    const admins = await trx
      .selectFrom("account")
      .select("id")
      .where("is_admin", "=", 1)
      .where("closed_at", "is", null)
      .execute();
    if (admins.every(({ id }) => id === accountId))
      return "There is always an administrator. Make somebody else one first.";
    const studies = await trx.selectFrom("study").select(["id", "code"]).where("owner_id", "=", accountId).execute();
    for (const study of studies) {
      const shares = await trx
        .selectFrom("study_share")
        .innerJoin("account", "account.id", "study_share.account_id")
        .select(["account.id", "account.name", "account.email", "roles"])
        .where("study_id", "=", study.id)
        .where("account.closed_at", "is", null)
        .where("account.id", "!=", accountId)
        .orderBy("study_share.since")
        .execute();
      const next = shares.find(({ roles }) => storedRoles(roles).includes("owner")) ?? heir;
      await trx.updateTable("study").set({ owner_id: next.id }).where("id", "=", study.id).execute();
      await trx.deleteFrom("study_share").where("study_id", "=", study.id).where("account_id", "=", next.id).execute();
      const what = `${next.name} (${next.email}) owns it now: the account that did was closed.`;
      await noteDeed(trx, { code: study.code, by: to.by, what, kind: "rights" });
    }
    await trx.deleteFrom("study_share").where("account_id", "=", accountId).execute();
    await trx.deleteFrom("script_key").where("account_id", "=", accountId).execute();
    await leaveAll(trx, accountId);
    await trx.updateTable("account").set({ is_admin: 0 }).where("id", "=", accountId).execute();
    return null;
  });
  if (refused !== null) return refused;
  await closeAccount(store, accountId);
  return null;
}

/** Opens a closed account again; it has nothing but its name. */
export async function reopenAccount({ db }: Store, accountId: string): Promise<void> {
  await db.updateTable("account").set({ closed_at: null }).where("id", "=", accountId).execute();
}

/** Sets how somebody is called. */
export async function renameAccount({ db }: Store, accountId: string, name: string): Promise<void> {
  await db.updateTable("account").set({ name }).where("id", "=", accountId).execute();
}
