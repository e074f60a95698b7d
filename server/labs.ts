import type { Transaction } from "kysely";
import { newId } from "./chance";
import { locked } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

export type LabMember = { account: string; name: string; email: string; heads: boolean };
/** A laboratory: persons with whom studies are shared at once. Those who head it say who belongs to it. */
export type Lab = { id: string; name: string; members: LabMember[] };

/** The laboratories somebody belongs to, by name. */
export async function labsOf({ db }: Store, accountId: string): Promise<Lab[]> {
  const rows = await db
    .selectFrom("lab_member")
    .innerJoin("lab", "lab.id", "lab_member.lab_id")
    .innerJoin("account", "account.id", "lab_member.account_id")
    .select(["lab.id", "lab.name as lab", "account.id as account", "account.name", "account.email", "heads"])
    .where("lab.id", "in", ({ selectFrom }) =>
      selectFrom("lab_member as mine").select("mine.lab_id").where("mine.account_id", "=", accountId),
    )
    .orderBy("lab.name")
    .orderBy("account.name")
    .execute();
  const labs = new Map<string, Lab>();
  for (const { id, lab, account, name, email, heads } of rows) {
    const there = labs.get(id) ?? { id, name: lab, members: [] };
    there.members.push({ account, name, email, heads: heads === 1 });
    labs.set(id, there);
  }
  return [...labs.values()];
}

/** Makes a laboratory, which whoever makes it heads. */
export async function addLab({ db }: Store, accountId: string, name: string): Promise<string> {
  const id = newId("lab");
  await db.transaction().execute(async (trx) => {
    await trx.insertInto("lab").values({ id, name, since: new Date().toISOString() }).execute();
    await trx.insertInto("lab_member").values({ lab_id: id, account_id: accountId, heads: 1 }).execute();
  });
  return id;
}

/** A change of a laboratory: its name, or what a person is in it (`null`: they leave it). */
export type LabChange = { name: string } | { email: string } | { account: string; as: "head" | "member" | null };

/** Changes a laboratory, for who heads it; anyone may leave. Gives why it cannot be. */
export async function changeLab(
  { db }: Store,
  asker: string,
  labId: string,
  change: LabChange,
): Promise<string | null> {
  return db.transaction().execute(async (trx) => {
    await locked(trx, trx.selectFrom("lab").select("id").where("id", "=", labId)).execute();
    const heads = await headsOf(trx, labId);
    const isLeaving = "account" in change && change.account === asker && change.as === null;
    const mine = await trx
      .selectFrom("lab_member")
      .select("heads")
      .where("lab_id", "=", labId)
      .where("account_id", "=", asker)
      .executeTakeFirst();
    if (!mine) return "There is no such laboratory.";
    if (mine.heads !== 1 && !isLeaving) return "Only those who head a laboratory change it.";
    if ("name" in change) {
      await trx.updateTable("lab").set({ name: change.name }).where("id", "=", labId).execute();
      return null;
    }
    if ("email" in change) return addMember(trx, labId, change.email);
    if (change.as !== "head" && heads.includes(change.account) && heads.length === 1) {
      const others = await trx
        .selectFrom("lab_member")
        .select("account_id")
        .where("lab_id", "=", labId)
        .where("account_id", "!=", change.account)
        .execute();
      if (change.as === "member" || others.length > 0)
        return "A laboratory always has somebody who heads it. Let another member head it first.";
    }
    const member = ["lab_id", "account_id"] as const;
    if (change.as === null)
      await trx.deleteFrom("lab_member").where(member[0], "=", labId).where(member[1], "=", change.account).execute();
    else
      await trx
        .updateTable("lab_member")
        .set({ heads: change.as === "head" ? 1 : 0 })
        .where(member[0], "=", labId)
        .where(member[1], "=", change.account)
        .execute();
    await removeWhereEmpty(trx, labId);
    return null;
  });
}

const headsOf = async (trx: Transaction<Tables>, labId: string): Promise<string[]> =>
  (
    await trx.selectFrom("lab_member").select("account_id").where("lab_id", "=", labId).where("heads", "=", 1).execute()
  ).map(({ account_id }) => account_id);

async function addMember(trx: Transaction<Tables>, labId: string, email: string): Promise<string | null> {
  const account = await trx
    .selectFrom("account")
    .select("id")
    .where("email", "=", email.trim().toLowerCase())
    .where("closed_at", "is", null)
    .executeTakeFirst();
  if (!account) return `Nobody here has the address ${email.trim()}. An administrator can invite them.`;
  await trx
    .insertInto("lab_member")
    .values({ lab_id: labId, account_id: account.id, heads: 0 })
    .onConflict((conflict) => conflict.columns(["lab_id", "account_id"]).doNothing())
    .execute();
  return null;
}

/** A laboratory that everyone has left is gone, with what was shared with it. */
async function removeWhereEmpty(trx: Transaction<Tables>, labId: string): Promise<void> {
  const there = await trx.selectFrom("lab_member").select("lab_id").where("lab_id", "=", labId).executeTakeFirst();
  if (there) return;
  await trx.deleteFrom("study_share").where("lab_id", "=", labId).execute();
  await trx.deleteFrom("lab").where("id", "=", labId).execute();
}

/** Takes somebody out of all laboratories; one that nobody else heads is headed by its other members then. */
export async function leaveAll(trx: Transaction<Tables>, accountId: string): Promise<void> {
  const left = await trx.deleteFrom("lab_member").where("account_id", "=", accountId).returning("lab_id").execute();
  for (const { lab_id } of left) {
    if ((await headsOf(trx, lab_id)).length === 0)
      await trx.updateTable("lab_member").set({ heads: 1 }).where("lab_id", "=", lab_id).execute();
    await removeWhereEmpty(trx, lab_id);
  }
}
