import type { Selectable, Transaction } from "kysely";
import { type Terms } from "../core/collect/terms";
import { newLinkToken } from "./chance";
import { termsFrom } from "./link-terms";
import type { Store } from "./database/open";
import { waveGone, waveIds, waveOf } from "./waves";
import type { Tables } from "./database/tables";

/** A link by which people take part in a wave, with what it asks of them. */
export type EntryLink = { token: string; waveId: string; label: string; open: boolean; terms: Terms };
type Row = Selectable<Tables["entry_link"]>;

type Reading = Store["db"] | Transaction<Tables>;

const linkFrom = (row: Row): EntryLink => ({
  token: row.token,
  waveId: row.wave_id,
  label: row.label,
  open: row.open === 1,
  terms: termsFrom(row.terms),
});

/** The links of a study that anyone can come by, in the order in which they were made. */
export async function linksOf({ db }: Store, studyId: string): Promise<EntryLink[]> {
  const rows = await db
    .selectFrom("entry_link")
    .innerJoin("wave", "wave.id", "entry_link.wave_id")
    .selectAll("entry_link")
    .where("wave.study_id", "=", studyId)
    .where("entry_link.set_id", "is", null)
    .orderBy("entry_link.created_at")
    .orderBy("entry_link.token")
    .execute();
  return rows.map(linkFrom);
}

/** How many have begun, and how many finished, by each link of a study, rehearsals apart. */
export async function countByLink(
  { db }: Store,
  studyId: string,
): Promise<Record<string, { started: number; finished: number }>> {
  const rows = await db
    .selectFrom("session")
    .select(["link_token", "state"])
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("link_token", "is not", null)
    .groupBy(["link_token", "state"])
    .execute();
  const counts: Record<string, { started: number; finished: number }> = {};
  for (const { link_token, state, count } of rows) {
    const of = (counts[link_token ?? ""] ??= { started: 0, finished: 0 });
    of.started += Number(count);
    if (state === "finished") of.finished += Number(count);
  }
  return counts;
}

/** A study has no more links than this, those for one person each included. */
const mostLinksOfStudy = 20_000;
const tooMany = `A study has at most ${mostLinksOfStudy.toLocaleString("en")} links.`;

/** Why a wave of a study cannot have so many more links; null where it can. */
export async function noMoreLinks(db: Reading, studyId: string, waveId: string, more: number): Promise<string | null> {
  if (!(await waveOf(db, studyId, waveId))) return waveGone;
  const { count } = await db
    .selectFrom("entry_link")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("wave_id", "in", waveIds(db, studyId))
    .executeTakeFirstOrThrow();
  return Number(count) + more > mostLinksOfStudy ? tooMany : null;
}

/** A link that anyone can come by, made with a release or later. */
export async function insertLink(
  db: Reading,
  { token = newLinkToken(), waveId, label }: { token?: string; waveId: string; label: string },
): Promise<EntryLink> {
  const row: Row = {
    ...{ token, wave_id: waveId, label, open: 1 },
    ...{ terms: null, created_at: new Date().toISOString(), set_id: null, place: 0, note: null },
  };
  await db.insertInto("entry_link").values(row).execute();
  return linkFrom(row);
}

/** Makes another link to a wave of a study, or tells why it cannot have one. */
export async function addLink(
  { db }: Store,
  studyId: string,
  waveId: string,
  label: string,
): Promise<{ link: EntryLink } | { reason: string }> {
  const reason = await noMoreLinks(db, studyId, waveId, 1);
  return reason === null ? { link: await insertLink(db, { waveId, label }) } : { reason };
}

export type LinkChange = { open?: boolean; label?: string; terms?: Terms };
/** A change of a link, or of a set of them, as it is stored. */
export const stored = ({ open, label, terms }: LinkChange) => ({
  ...(open === undefined ? {} : { open: open ? (1 as const) : (0 as const) }),
  ...(label === undefined ? {} : { label }),
  ...(terms === undefined ? {} : { terms: JSON.stringify(terms) }),
});

/** Changes a link: opens or closes it, renames it, or says what it asks. Sessions that have begun by it keep their data either way. */
export async function setLink({ db }: Store, studyId: string, token: string, change: LinkChange): Promise<void> {
  if (Object.keys(change).length === 0) return;
  await db
    .updateTable("entry_link")
    .set(stored(change))
    .where("token", "=", token)
    .where("wave_id", "in", waveIds(db, studyId))
    .execute();
}
