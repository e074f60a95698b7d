import { openTerms, type Terms } from "../core/collect/terms";
import type { ListedLink } from "../core/collect/link-list";
import type { OfLinks } from "../core/describe/privacy";
import { newId, newLinkToken } from "./chance";
import { lockStudy } from "./database/locked";
import type { Store } from "./database/open";
import { linksOf, noMoreLinks, stored, type LinkChange } from "./links";
import { waveIds } from "./waves";
import { forgetInPlay } from "./session-of-secret";

/** Links for one person each, made at once, that all ask the same. */
export type LinkSet = {
  id: string;
  waveId: string;
  label: string;
  open: boolean;
  terms: Terms;
  links: number;
  begun: number;
  finished: number;
};
/** How far the person with a link is. */
export type LinkState = "unused" | "begun" | "finished" | "ended";
export type PersonalLink = {
  token: string;
  label: string;
  note: string;
  state: LinkState;
  /** The sitting that is told of; 0 before the first. */
  sitting: number;
};

/** The sets of a study, in the order in which they were made, with how many of their links were used. */
export async function linkSetsOf({ db }: Store, studyId: string): Promise<LinkSet[]> {
  const rows = await db
    .selectFrom("link_set")
    .innerJoin("wave", "wave.id", "link_set.wave_id")
    .selectAll("link_set")
    .where("wave.study_id", "=", studyId)
    .orderBy("link_set.created_at")
    .execute();
  const links = db
    .selectFrom("entry_link")
    .innerJoin("wave", "wave.id", "entry_link.wave_id")
    .select("entry_link.set_id")
    // A person may come for several sittings.
    .select(({ fn }) => fn.count<number>("entry_link.token").distinct().as("count"))
    .where("wave.study_id", "=", studyId)
    .where("entry_link.set_id", "is not", null)
    .groupBy("entry_link.set_id");
  const used = links.innerJoin("session", "session.link_token", "entry_link.token");
  const counts = {
    links: await links.execute(),
    begun: await used.execute(),
    finished: await used.where("session.state", "=", "finished").execute(),
  };
  const of = (id: string, kind: keyof typeof counts) =>
    Number(counts[kind].find(({ set_id }) => set_id === id)?.count ?? 0);
  return rows.map((row) => ({
    id: row.id,
    waveId: row.wave_id,
    label: row.label,
    open: row.open === 1,
    terms: row.terms === null ? openTerms : (JSON.parse(row.terms) as Terms),
    links: of(row.id, "links"),
    begun: of(row.id, "begun"),
    finished: of(row.id, "finished"),
  }));
}

/** What the links of a study add to what is kept of participants. */
export async function whatLinksAdd(store: Store, studyId: string): Promise<OfLinks> {
  const [links, sets] = await Promise.all([linksOf(store, studyId), linkSetsOf(store, studyId)]);
  return { arePersonal: sets.length > 0, ends: [...links, ...sets].flatMap(({ terms: { ends } }) => ends ?? []) };
}

/** Makes a set of links to a wave of a study: gives its id, or tells why it cannot have them. */
export async function addLinkSet(
  store: Store,
  studyId: string,
  waveId: string,
  label: string,
  links: readonly ListedLink[],
): Promise<{ id: string } | { reason: string }> {
  return store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    const reason = await noMoreLinks(trx, studyId, waveId, links.length);
    if (reason !== null) return { reason };
    const id = newId("links");
    const created_at = new Date().toISOString();
    await trx.insertInto("link_set").values({ id, wave_id: waveId, label, open: 1, terms: null, created_at }).execute();
    // A hundred at a time: databases take so many values in one go.
    for (let from = 0; from < links.length; from += 100)
      await trx
        .insertInto("entry_link")
        .values(
          links.slice(from, from + 100).map((link, index) => ({
            ...{ token: newLinkToken(), wave_id: waveId, label: link.label, note: link.note, open: 1 as const },
            ...{ terms: null, created_at, set_id: id, place: from + index },
          })),
        )
        .execute();
    return { id };
  });
}

/** Changes a set: opens or closes all its links, renames it, or says what they ask. */
export async function setLinkSet({ db }: Store, studyId: string, id: string, change: LinkChange): Promise<void> {
  if (Object.keys(change).length === 0) return;
  await db
    .updateTable("link_set")
    .set(stored(change))
    .where("id", "=", id)
    .where("wave_id", "in", waveIds(db, studyId))
    .execute();
}

const told: Record<string, LinkState> = { active: "begun", finished: "finished" };

/** The links of a set as they were listed, each with how far its person is; null where the study has no such set. */
export async function linksOfSet({ db }: Store, studyId: string, id: string): Promise<PersonalLink[] | null> {
  const set = await db
    .selectFrom("link_set")
    .innerJoin("wave", "wave.id", "link_set.wave_id")
    .select("link_set.id")
    .where("link_set.id", "=", id)
    .where("wave.study_id", "=", studyId)
    .executeTakeFirst();
  if (!set) return null;
  const rows = await db
    .selectFrom("entry_link")
    .leftJoin("session", "session.link_token", "entry_link.token")
    .select(["entry_link.token", "entry_link.label", "entry_link.note", "session.state", "session.sitting"])
    .where("entry_link.set_id", "=", id)
    .orderBy("entry_link.place")
    .orderBy("session.sitting")
    .orderBy("session.repeat")
    .execute();
  // Of several sittings the last one is told.
  const last = new Map(rows.map((row) => [row.token, row]));
  return [...last.values()].map(({ token, label, note, state, sitting }) => ({
    ...{ token, label, note: note ?? "", sitting: sitting ?? 0 },
    state: state === null ? "unused" : (told[state] ?? "ended"),
  }));
}

/**
 * Gives the person with a link another address, where they lost theirs or somebody else has it: the old one leads nowhere
 * from then on, and what they have recorded stays theirs. Gives the new token; null where the study has no such link.
 */
export async function renewLink(store: Store, studyId: string, token: string): Promise<string | null> {
  const moved = await store.db.transaction().execute(async (trx) => {
    const row = await trx
      .selectFrom("entry_link")
      .innerJoin("wave", "wave.id", "entry_link.wave_id")
      .selectAll("entry_link")
      .where("entry_link.token", "=", token)
      .where("entry_link.set_id", "is not", null)
      .where("wave.study_id", "=", studyId)
      .executeTakeFirst();
    if (!row) return null;
    const fresh = newLinkToken();
    await trx
      .insertInto("entry_link")
      .values({ ...row, token: fresh })
      .execute();
    const theirs = await trx
      .updateTable("session")
      .set({ link_token: fresh })
      .where("link_token", "=", token)
      .returning("token_hash")
      .execute();
    await trx.deleteFrom("entry_link").where("token", "=", token).execute();
    return { fresh, theirs };
  });
  for (const { token_hash } of moved?.theirs ?? []) forgetInPlay(store, token_hash);
  return moved?.fresh ?? null;
}
