import { sql } from "kysely";
import type { WhyUnsuited } from "../core/collect/suited";
import type { Store } from "./database/open";

/** Counts that somebody could not take part by a link on what they came with. Nothing else is kept of them. */
export async function countUnsuited({ db }: Store, token: string, why: WhyUnsuited): Promise<void> {
  const link = await db
    .selectFrom("entry_link")
    .innerJoin("wave", "wave.id", "entry_link.wave_id")
    .select(["entry_link.token", "entry_link.set_id", "wave.study_id"])
    .where("entry_link.token", "=", token)
    .executeTakeFirst();
  if (!link) return;
  await db
    .insertInto("unsuited")
    .values({ study_id: link.study_id, link: link.set_id ?? link.token, why, count: 1 })
    .onConflict((conflict) => conflict.columns(["link", "why"]).doUpdateSet({ count: sql`unsuited.count + 1` }))
    .execute();
}

/** How many could not take part, and why, by link or set of links. */
export type UnsuitedCounts = Record<string, Partial<Record<WhyUnsuited, number>>>;

/** The same of all links of a study. */
export async function unsuitedOf({ db }: Store, studyId: string): Promise<UnsuitedCounts> {
  const rows = await db.selectFrom("unsuited").selectAll().where("study_id", "=", studyId).execute();
  const found: UnsuitedCounts = {};
  for (const { link, why, count } of rows) (found[link] ??= {})[why] = count;
  return found;
}
