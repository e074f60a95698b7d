import type { Transaction } from "kysely";
import { inOrder, storedRoles, type Role } from "../core/rights/rights";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

type Db = Store["db"] | Transaction<Tables>;

/** What somebody is in each study they have to do with, by the study's id: as its owner, by a share of their own, or by a laboratory's. */
export async function rolesOf(db: Db, accountId: string): Promise<Map<string, Role[]>> {
  return gathered(db, accountId, null);
}

/** What somebody is in a study; nothing where they have nothing to do with it. */
export async function rolesIn(db: Db, accountId: string, studyId: string): Promise<Role[]> {
  return (await gathered(db, accountId, studyId)).get(studyId) ?? [];
}

async function gathered(db: Db, accountId: string, studyId: string | null): Promise<Map<string, Role[]>> {
  let owned = db.selectFrom("study").select("id").where("owner_id", "=", accountId);
  let shared = db
    .selectFrom("study_share")
    .select(["study_id", "roles"])
    .where(({ eb, or, selectFrom }) =>
      or([
        eb("account_id", "=", accountId),
        eb("lab_id", "in", selectFrom("lab_member").select("lab_member.lab_id").where("account_id", "=", accountId)),
      ]),
    );
  if (studyId !== null) {
    owned = owned.where("id", "=", studyId);
    shared = shared.where("study_id", "=", studyId);
  }
  const roles = new Map<string, Role[]>();
  for (const { id } of await owned.execute()) roles.set(id, ["owner"]);
  for (const { study_id, roles: text } of await shared.execute())
    roles.set(study_id, inOrder([...(roles.get(study_id) ?? []), ...storedRoles(text)]));
  return roles;
}
