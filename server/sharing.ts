import type { Transaction } from "kysely";
import { inOrder, rolesInWords, storedRoles, type Role } from "../core/rights/rights";
import { newId } from "./chance";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { noteDeed } from "./study-log";

/** Whom a study is shared with: a person, or a laboratory with so many members. */
export type Share = { id: string; roles: Role[]; name: string } & (
  { kind: "person"; email: string; isMaker: boolean; isClosed: boolean } | { kind: "lab"; members: number }
);
type OfStudy = { id: string; code: string };

/** Who works on a study, its owner first. The id of a person is their account's, of a laboratory its own. */
export async function sharesOf({ db }: Store, studyId: string): Promise<Share[]> {
  const owner = await db
    .selectFrom("study")
    .innerJoin("account", "account.id", "study.owner_id")
    .select(["account.id", "account.name", "account.email", "account.closed_at"])
    .where("study.id", "=", studyId)
    .executeTakeFirst();
  const persons = await db
    .selectFrom("study_share")
    .innerJoin("account", "account.id", "study_share.account_id")
    .select(["account.id", "account.name", "account.email", "account.closed_at", "study_share.roles"])
    .where("study_id", "=", studyId)
    .orderBy("account.name")
    .execute();
  const labs = await db
    .selectFrom("study_share")
    .innerJoin("lab", "lab.id", "study_share.lab_id")
    .select(["lab.id", "lab.name", "study_share.roles"])
    .select(({ selectFrom }) =>
      selectFrom("lab_member")
        .select(({ fn }) => fn.countAll<number>().as("count"))
        .whereRef("lab_member.lab_id", "=", "lab.id")
        .as("members"),
    )
    .where("study_id", "=", studyId)
    .orderBy("lab.name")
    .execute();
  const person = (row: { id: string; name: string; email: string; closed_at: string | null }, own: Role[]) => ({
    kind: "person" as const,
    id: row.id,
    name: row.name,
    email: row.email,
    roles: own,
    isMaker: row.id === owner?.id,
    isClosed: row.closed_at !== null,
  });
  return [
    ...(owner ? [person(owner, ["owner"])] : []),
    ...persons.map((row) => person(row, storedRoles(row.roles))),
    ...labs.map(({ id, name, roles, members }) => ({
      kind: "lab" as const,
      id,
      name,
      roles: storedRoles(roles),
      members: Number(members),
    })),
  ];
}

type Whom = { email: string } | { account: string } | { lab: string };

/**
 * Says what a person or a laboratory is in a study from now on; nothing at all ends it. Gives why it cannot be: a study
 * always has a person who owns it.
 */
export async function setShare(
  { db }: Store,
  study: OfStudy,
  whom: Whom,
  wanted: readonly Role[],
  by: string,
): Promise<string | null> {
  const roles = inOrder(wanted);
  return db.transaction().execute(async (trx) => {
    await lockStudy(trx, study.id);
    const to = await found(trx, whom);
    if (typeof to === "string") return to;
    const { owner_id } = await trx
      .selectFrom("study")
      .select("owner_id")
      .where("id", "=", study.id)
      .executeTakeFirstOrThrow();
    if (to.account === owner_id) {
      if (roles.includes("owner")) return null;
      const next = await otherOwner(trx, study.id);
      if (next === null)
        return "A study always has an owner. Make somebody else an owner first, then this can be taken back.";
      await trx.updateTable("study").set({ owner_id: next }).where("id", "=", study.id).execute();
      await trx.deleteFrom("study_share").where("study_id", "=", study.id).where("account_id", "=", next).execute();
    }
    const column = to.account === null ? ("lab_id" as const) : ("account_id" as const);
    const id = to.account ?? to.lab;
    if (roles.length === 0)
      await trx.deleteFrom("study_share").where("study_id", "=", study.id).where(column, "=", id).execute();
    else
      await trx
        .insertInto("study_share")
        .values({
          id: newId("share"),
          study_id: study.id,
          account_id: to.account,
          lab_id: to.lab,
          roles: roles.join(" "),
          since: new Date().toISOString(),
        })
        .onConflict((conflict) => conflict.columns(["study_id", column]).doUpdateSet({ roles: roles.join(" ") }))
        .execute();
    const what =
      roles.length === 0 ? `${to.name} no longer works on this study.` : `${to.name} is ${rolesInWords(roles)} now.`;
    await noteDeed(trx, { code: study.code, by, what, kind: "rights" });
    return null;
  });
}

type Found = { name: string } & ({ account: string; lab: null } | { account: null; lab: string });
async function found(trx: Transaction<Tables>, whom: Whom): Promise<Found | string> {
  if ("lab" in whom) {
    const lab = await trx.selectFrom("lab").selectAll().where("id", "=", whom.lab).executeTakeFirst();
    return lab ? { name: `The laboratory ${lab.name}`, account: null, lab: lab.id } : "There is no such laboratory.";
  }
  let query = trx.selectFrom("account").select(["id", "name", "email", "closed_at"]);
  query =
    "email" in whom ? query.where("email", "=", whom.email.trim().toLowerCase()) : query.where("id", "=", whom.account);
  const account = await query.executeTakeFirst();
  if (!account || (account.closed_at !== null && "email" in whom))
    return "email" in whom
      ? `Nobody here has the address ${whom.email.trim()}. An administrator can invite them; then share it with them.`
      : "There is no such person.";
  return { name: `${account.name} (${account.email})`, account: account.id, lab: null };
}

/** Another person who owns a study by a share, the first who did. */
async function otherOwner(trx: Transaction<Tables>, studyId: string): Promise<string | null> {
  const shares = await trx
    .selectFrom("study_share")
    .innerJoin("account", "account.id", "study_share.account_id")
    .select(["account.id", "study_share.roles"])
    .where("study_id", "=", studyId)
    .where("account.closed_at", "is", null)
    .orderBy("study_share.since")
    .execute();
  return shares.find(({ roles }) => storedRoles(roles).includes("owner"))?.id ?? null;
}

/** Whether assistants are shown the groups of participants. */
export async function showsGroups({ db }: Store, studyId: string): Promise<boolean> {
  const row = await db.selectFrom("study").select("shows_groups").where("id", "=", studyId).executeTakeFirst();
  return row?.shows_groups === 1;
}

/** Says whether assistants are shown the groups of participants. */
export async function setShowsGroups(store: Store, study: OfStudy, shows: boolean, by: string): Promise<void> {
  await store.db.transaction().execute(async (trx) => {
    await trx
      .updateTable("study")
      .set({ shows_groups: shows ? 1 : 0 })
      .where("id", "=", study.id)
      .execute();
    const what = shows ? "Assistants are shown the groups." : "Assistants are not shown the groups.";
    await noteDeed(trx, { code: study.code, by, what, kind: "rights" });
  });
}
