import type { Selectable, Transaction } from "kysely";
import { mayGoOn, openTerms, whyNotBegin, type Terms, type WhyNot } from "../core/collect/terms";
import type { StudyDocument } from "../core/design/document";
import type { Entry } from "../core/run/entry";
import { filledIn } from "../core/wording/names";
import { wordingFor } from "../core/wording/wording";
import { newLinkToken } from "./chance";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

/** A link by which people take part in a release, with what it asks of them. */
export type EntryLink = { token: string; releaseId: string; label: string; open: boolean; terms: Terms };
type Row = Selectable<Tables["entry_link"]>;

/** What the page of a link shows. */
export type LinkEntry = {
  entry: Entry;
  /** What is said where nobody can begin by it: sessions can go on by it all the same; null where one can. */
  closed: string | null;
  asksWord: boolean;
  /** How often one can begin in one browser; null for as often as one likes. */
  perBrowser: number | null;
};

const termsIn = ({ terms }: Pick<Row, "terms">): Terms => (terms === null ? openTerms : (JSON.parse(terms) as Terms));
export const linkFrom = (row: Row): EntryLink => ({
  token: row.token,
  releaseId: row.release_id,
  label: row.label,
  open: row.open === 1,
  terms: termsIn(row),
});

/** The links of a study, in the order in which they were made. */
export async function linksOf({ db }: Store, studyId: string): Promise<EntryLink[]> {
  const rows = await db
    .selectFrom("entry_link")
    .innerJoin("release", "release.id", "entry_link.release_id")
    .selectAll("entry_link")
    .where("release.study_id", "=", studyId)
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

/** Makes another link to a release of a study; null where it has no such release. */
export async function addLink(
  { db }: Store,
  studyId: string,
  releaseId: string,
  label: string,
): Promise<EntryLink | null> {
  const release = await db
    .selectFrom("release")
    .select("id")
    .where("id", "=", releaseId)
    .where("study_id", "=", studyId)
    .where("number", "is not", null)
    .executeTakeFirst();
  if (!release) return null;
  const row: Row = {
    ...{ token: newLinkToken(), release_id: releaseId, label, open: 1 },
    ...{ terms: null, created_at: new Date().toISOString() },
  };
  await db.insertInto("entry_link").values(row).execute();
  return linkFrom(row);
}

/** Changes a link: opens or closes it, renames it, or says what it asks. Sessions that have begun by it keep their data either way. */
export async function setLink(
  { db }: Store,
  studyId: string,
  token: string,
  { open, label, terms }: { open?: boolean; label?: string; terms?: Terms },
): Promise<void> {
  const change = {
    ...(open === undefined ? {} : { open: open ? (1 as const) : (0 as const) }),
    ...(label === undefined ? {} : { label }),
    ...(terms === undefined ? {} : { terms: JSON.stringify(terms) }),
  };
  if (Object.keys(change).length === 0) return;
  await db
    .updateTable("entry_link")
    .set(change)
    .where("token", "=", token)
    .where("release_id", "in", (eb) => eb.selectFrom("release").select("id").where("study_id", "=", studyId))
    .execute();
}

type Reading = Store["db"] | Transaction<Tables>;
/** Where a link leads just now: its release and study, its terms, and why nobody can begin by it; null where it leads nowhere. */
export type Found = { releaseId: string; studyId: string; terms: Terms; why: WhyNot | null };

export async function linkBy(db: Reading, token: string): Promise<Found | null> {
  const row = await db
    .selectFrom("entry_link")
    .innerJoin("release", "release.id", "entry_link.release_id")
    .innerJoin("study", "study.id", "release.study_id")
    .selectAll("entry_link")
    .select("release.study_id")
    .where("entry_link.token", "=", token)
    .where("study.binned_at", "is", null)
    .executeTakeFirst();
  if (!row) return null;
  const { terms, open } = linkFrom(row);
  const finished = terms.mostFinished === undefined ? 0 : await finishedBy(db, token);
  const why = whyNotBegin(terms, { isOpen: open, finished, now: Date.now() });
  return { releaseId: row.release_id, studyId: row.study_id, terms, why };
}

/** How many have finished by a link; those that a researcher left out do not count. */
async function finishedBy(db: Reading, token: string): Promise<number> {
  const { count } = await db
    .selectFrom("session")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("link_token", "=", token)
    .where("state", "=", "finished")
    .where("excluded_at", "is", null)
    .executeTakeFirstOrThrow();
  return Number(count);
}

const wordingOf = ({ language, settings }: StudyDocument) => wordingFor(language, settings.participation.wording);

/** What somebody reads who cannot begin by a link: the study's own words, else those of its language. */
export function closedInWords(document: StudyDocument, { says, from }: Terms, why: WhyNot): string {
  const wording = wordingOf(document);
  const plain = { closed: wording.notOpen, early: wording.notYet, over: wording.isOver, full: wording.isFull }[why];
  const when = from
    ? new Intl.DateTimeFormat(document.language, {
        ...{ dateStyle: "long", timeStyle: "short", timeZone: from.zone },
      }).format(new Date(from.at))
    : "";
  return says[why]?.trim() || filledIn(plain, { when });
}

/** What somebody reads who comes back too late to go on with a session; null while they may. */
export async function lateInWords(
  db: Reading,
  document: StudyDocument,
  { link, startedAt }: { link: string | null; startedAt: string },
): Promise<string | null> {
  if (link === null) return null;
  const row = await db.selectFrom("entry_link").select("terms").where("token", "=", link).executeTakeFirst();
  const isIn = !row || mayGoOn(termsIn(row), Date.parse(startedAt), Date.now());
  return isIn ? null : wordingOf(document).goOnTooLate;
}

/** What somebody reads whose word was another one. */
export const wrongWord = (document: StudyDocument): string => wordingOf(document).wordWrong;
