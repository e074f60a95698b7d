import type { Transaction } from "kysely";
import { openTerms, type Terms } from "../core/collect/terms";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

type Reading = Store["db"] | Transaction<Tables>;

/** Terms as they are stored; null is for none. */
export const termsFrom = (text: string | null): Terms => (text === null ? openTerms : (JSON.parse(text) as Terms));

/** What a link asks: its own terms, or those of the set it was made with. `of` is the link's token, or the set's id. */
export type LinkTerms = { of: string; isOfSet: boolean; terms: Terms };

/** What a link asks, by its token; null where there is no such link any more. */
export async function termsOfLink(db: Reading, token: string | null): Promise<LinkTerms | null> {
  if (token === null) return null;
  const row = await db
    .selectFrom("entry_link")
    .leftJoin("link_set", "link_set.id", "entry_link.set_id")
    .select(["entry_link.terms", "entry_link.set_id", "link_set.terms as set_terms"])
    .where("entry_link.token", "=", token)
    .executeTakeFirst();
  if (!row) return null;
  return row.set_id === null
    ? { of: token, isOfSet: false, terms: termsFrom(row.terms) }
    : { of: row.set_id, isOfSet: true, terms: termsFrom(row.set_terms) };
}

/** What is taken by those who have finished: groups, or strata, into which a link takes nobody more. */
export type Taken = { of: "group" | "stratum"; names: ReadonlySet<string> };

/** The groups or strata in which as many have finished by a link, or by all of its set, as it wants; null where it does not ask. */
export async function takenBy(trx: Transaction<Tables>, token: string | null): Promise<Taken | null> {
  const asked = await termsOfLink(trx, token);
  const each = asked?.terms.mostEach;
  if (!asked || !each) return null;
  const column = each.of === "group" ? "session.group_id" : "session.stratum";
  const rows = await trx
    .selectFrom("session")
    .innerJoin("entry_link", "entry_link.token", "session.link_token")
    .select(`${column} as name`)
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where(asked.isOfSet ? "entry_link.set_id" : "entry_link.token", "=", asked.of)
    .where("session.state", "=", "finished")
    .where("session.excluded_at", "is", null)
    .where("session.pilot", "=", 0)
    .where("session.participant", ">", 0)
    .groupBy(column)
    .execute();
  return {
    of: each.of,
    names: new Set(rows.filter(({ count }) => Number(count) >= each.count).map(({ name }) => name)),
  };
}
