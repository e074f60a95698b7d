import type { Transaction } from "kysely";
import { accountOfSecret } from "./accounts";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { rolesIn } from "./rights";

/** Whether whoever is signed in with this secret works on a study. */
export async function isOfTeam(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  signIn: string | null,
): Promise<boolean> {
  const account = signIn === null ? null : await accountOfSecret({ db }, signIn);
  return account !== null && (await rolesIn(db, account.id, studyId)).length > 0;
}
