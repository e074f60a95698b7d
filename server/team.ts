import type { Transaction } from "kysely";
import { accountOfSecret } from "./accounts";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

/** Whether whoever is signed in with this secret works on a study. */
export async function isOfTeam(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  signIn: string | null,
): Promise<boolean> {
  const account = signIn === null ? null : await accountOfSecret({ db }, signIn);
  if (!account) return false;
  const study = await db.selectFrom("study").select("owner_id").where("id", "=", studyId).executeTakeFirst();
  return study?.owner_id === account.id;
}
