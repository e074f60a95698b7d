import type { Transaction } from "kysely";
import type { Tables } from "./tables";

/** A moment for what is added to a study now: later than that of anything added before, so that their order stays. */
export async function sinceNow(
  trx: Transaction<Tables>,
  table: "recipe" | "exclusion_set" | "trial_score" | "norm_sample",
  studyId: string,
): Promise<string> {
  const { last } = await trx
    .selectFrom(table)
    .select(({ fn }) => fn.max<string | null>("since").as("last"))
    .where("study_id", "=", studyId)
    .executeTakeFirstOrThrow();
  return new Date(Math.max(Date.now(), last === null ? 0 : Date.parse(last) + 1)).toISOString();
}
