import type { Selectable, Transaction } from "kysely";
import { laterOf, type Moment } from "../core/collect/moment";
import { countsUnderWay } from "../core/collect/wave";
import { asOftenAsTheyLike, mayGoOn, whyNotBegin, type Terms, type WhyNot } from "../core/collect/terms";
import type { StudyDocument } from "../core/design/document";
import { hasSittings } from "../core/design/sittings";
import { entryInto, type LinkEntry } from "../core/run/entry";
import { filledIn } from "../core/wording/names";
import { localeOf } from "../core/wording/wording";
import { hasPlace } from "../core/order/place";
import { termsFrom, termsOfLink } from "./link-terms";
import { wordingOf } from "./study-wording";
import { isOfTeam } from "./team";
import { codeIn, type Parameters } from "./assignment";
import { endWhenFull } from "./ends";
import { sessionsWith } from "./codes";
import type { Store } from "./database/open";
import { frozenDocument } from "./frozen-documents";
import { isGivenUp, lastSitting, nextFor } from "./sittings";
import { filledWithin, planOf, whyNotInWave, type WaveNow } from "./waves";
import type { Tables } from "./database/tables";

type Row = Selectable<Tables["entry_link"]>;
type Reading = Store["db"] | Transaction<Tables>;

/** Why nobody can begin by a link, what its makers say to that, and from when one can where it is too early. */
export type NotNow = { why: WhyNot | "used"; says: string; opens?: Moment | undefined };
/** Where a link leads just now: its wave with the release it runs, its terms, and why nobody can begin by it. */
export type Found = {
  waveId: string;
  releaseId: string;
  studyId: string;
  terms: Terms;
  notNow: NotNow | null;
  isPersonal: boolean;
  /** Whether how many are under way decides who begins by it. */
  countsUnderWay: boolean;
  /** The wave within which groups and orders are filled evenly; null where they are over all of the study. */
  filledWithin: string | null;
  owned: Owned | null;
  /** The number of the participant whose link it is and who begins their next sitting by it. */
  follows: number | null;
};
/** The session of the person whose link it is, while it goes on. */
type Owned = { id: string; token_hash: string; link_token: string | null; started_at: string; ends_by: string | null };

/** Where a link leads somebody with a code, or without; null where it leads nowhere. */
export async function linkBy(db: Reading, token: string, code: string | null = null): Promise<Found | null> {
  const row = await db
    .selectFrom("entry_link")
    .innerJoin("wave", "wave.id", "entry_link.wave_id")
    .innerJoin("study", "study.id", "wave.study_id")
    .leftJoin("link_set", "link_set.id", "entry_link.set_id")
    .selectAll("entry_link")
    .select(["link_set.open as set_open", "link_set.terms as set_terms"])
    .select(["wave.study_id", "wave.release_id", "wave.plan", "wave.state", "wave.says"])
    .where("entry_link.token", "=", token)
    .where("study.binned_at", "is", null)
    .executeTakeFirst();
  if (!row) return null;
  const { wave_id, study_id, release_id, plan, state, says } = row;
  const wave: WaveNow = { id: wave_id, study_id, release_id, plan, state, says };
  const isPersonal = row.set_id !== null;
  const terms = termsFrom(isPersonal ? row.set_terms : row.terms);
  const document = await frozenDocument(db, wave.release_id);
  const theirs = isPersonal ? await sessionBy(db, { token }) : undefined;
  const earlier =
    theirs ?? (code !== null && hasSittings(document) ? await sessionBy(db, { code, of: wave }) : undefined);
  const comes = earlier
    ? comesAgain(document, earlier, terms, theirs ? await countBy(db, token) : 0)
    : { follows: null, used: null };
  const isUsed = code !== null && comes.follows === null && (await isUsedUp(db, study_id, terms, code));
  const isOpen = row.open === 1 && row.set_open !== 0;
  return {
    ...{ waveId: wave.id, releaseId: release_id, studyId: study_id, terms, isPersonal },
    filledWithin: filledWithin(wave),
    countsUnderWay: countsUnderWay(planOf(wave)),
    notNow: isUsed
      ? usedUp
      : (comes.used ?? (await notNowBy(db, { link: row, isOpen, terms, wave, isNew: comes.follows === null }))),
    owned: theirs && comes.follows === null && comes.used === null ? theirs : null,
    follows: comes.follows,
  };
}

/**
 * What somebody does who comes again by their own link: goes on with their session, begins their next sitting as the
 * participant they are, or nothing, with the reason.
 */
function comesAgain(
  document: StudyDocument,
  theirs: NonNullable<Awaited<ReturnType<typeof sessionBy>>>,
  { perLink = 1 }: Terms,
  begun: number,
): { follows: number | null; used: NotNow | null } {
  if (isGivenUp(document, theirs)) return { follows: theirs.participant, used: null };
  if (theirs.state === "active") return { follows: null, used: null };
  if (!hasSittings(document)) {
    const isAgain = hasPlace(theirs) && (perLink === asOftenAsTheyLike || begun < perLink);
    return isAgain ? { follows: theirs.participant, used: null } : { follows: null, used: usedUp };
  }
  const next = nextFor(document, lastSitting(theirs));
  return "why" in next
    ? { follows: null, used: { why: "used", says: next.reason } }
    : { follows: theirs.participant, used: null };
}

const usedUp: NotNow = { why: "used", says: "" };

/** How often somebody has begun by a link of their own. */
async function countBy(db: Reading, token: string): Promise<number> {
  const { count } = await db
    .selectFrom("session")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("link_token", "=", token)
    .where("excluded_at", "is", null)
    .executeTakeFirstOrThrow();
  return Number(count);
}

/** Whether somebody has begun with this code as often as the link lets them. */
async function isUsedUp(db: Reading, studyId: string, { perCode }: Terms, code: string): Promise<boolean> {
  if (perCode === undefined) return false;
  const { count } = await db
    .selectFrom("session")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("id", "in", sessionsWith(db, studyId, { participant_code: code }))
    .where("excluded_at", "is", null)
    .executeTakeFirstOrThrow();
  return Number(count) >= perCode;
}

type Way = {
  link: Pick<Row, "token" | "set_id">;
  isOpen: boolean;
  terms: Terms;
  wave: WaveNow;
  /** Not of somebody who comes for their next sitting: that enough take part concerns new ones only. */
  isNew: boolean;
};

/** Why nobody can begin in the wave, or by the link; null where one can. */
async function notNowBy(db: Reading, { link, isOpen, terms, wave, isNew }: Way): Promise<NotNow | null> {
  const inWave = await whyNotInWave(db, wave);
  if (inWave !== null && (isNew || inWave !== "full"))
    return {
      why: inWave,
      says: (inWave === "closed" && wave.says.trim()) || (terms.says[inWave] ?? ""),
      opens: laterOf(planOf(wave).from, terms.from),
    };
  const finished = terms.mostFinished === undefined || !isNew ? 0 : await finishedBy(db, link);
  const why = whyNotBegin(terms, { isOpen, finished, now: Date.now() });
  return why && { why, says: terms.says[why] ?? "", opens: terms.from };
}

/** How many have finished by a link, or by all of its set; those that a researcher left out do not count. */
async function finishedBy(db: Reading, { token, set_id }: Pick<Row, "token" | "set_id">): Promise<number> {
  const { count } = await db
    .selectFrom("session")
    .innerJoin("entry_link", "entry_link.token", "session.link_token")
    .select(({ fn }) => fn.countAll<number>().as("count"))
    .where((eb) => (set_id === null ? eb("entry_link.token", "=", token) : eb("entry_link.set_id", "=", set_id)))
    .where("session.state", "=", "finished")
    .where("session.excluded_at", "is", null)
    .where("session.pilot", "=", 0)
    .executeTakeFirstOrThrow();
  return Number(count);
}

/** The last session of the person whose link this is, or who has this code in the study of a wave. */
const sessionBy = (db: Reading, by: { token: string } | { code: string; of: WaveNow }) =>
  db
    .selectFrom("session")
    .select(["id", "token_hash", "link_token", "started_at", "state", "finished_at", "seen_at", "excluded_at"])
    .select(["participant", "sitting", "ends_by"])
    .where((eb) =>
      "token" in by
        ? eb("link_token", "=", by.token)
        : eb.and([
            eb("pilot", "=", 0),
            eb("id", "in", sessionsWith(db, by.of.study_id, { participant_code: by.code })),
          ]),
    )
    .orderBy("sitting", "desc")
    .orderBy("started_at", "desc")
    .executeTakeFirst();

/** What somebody reads who cannot begin by a link: the study's own words, else those of its language. */
export function closedInWords(document: StudyDocument, { why, says, opens }: NotNow): string {
  const wording = wordingOf(document);
  if (why === "used") return says.trim() || wording.takenPart;
  const plain = { closed: wording.notOpen, early: wording.notYet, over: wording.isOver, full: wording.isFull }[why];
  const when = opens
    ? new Intl.DateTimeFormat(localeOf(document.language), {
        ...{ dateStyle: "long", timeStyle: "short", timeZone: opens.zone },
      }).format(new Date(opens.at))
    : "";
  return says.trim() || filledIn(plain, { when });
}

/** What somebody reads who comes back too late to go on with a session; null while they may. */
export async function lateInWords(
  db: Reading,
  document: StudyDocument,
  { link, startedAt, endsBy }: { link: string | null; startedAt: string; endsBy: string | null },
): Promise<string | null> {
  const isLong = endsBy !== null && Date.parse(endsBy) <= Date.now();
  const asked = isLong ? null : (await termsOfLink(db, link))?.terms;
  const isIn = !isLong && (!asked || mayGoOn(asked, Date.parse(startedAt), Date.now()));
  return isIn ? null : wordingOf(document).goOnTooLate;
}

/** What somebody reads whose word was another one. */
export const wrongWord = (document: StudyDocument): string => wordingOf(document).wordWrong;

/** Whether somebody may come by a link, which may be for the team only; by the secret of their sign-in. */
export const mayCome = async (
  db: Reading,
  { terms, studyId }: Pick<Found, "terms" | "studyId">,
  signIn: string | null,
): Promise<boolean> => terms.who.kind !== "team" || (await isOfTeam(db, studyId, signIn));

/** What the entry page of a link shows: why nobody can begin by it (null where one can), and whether it asks for a word; null where the link leads nowhere. */
export async function entryOf(
  { db }: Store,
  token: string,
  parameters: Parameters = {},
  signIn: string | null = null,
): Promise<LinkEntry | null> {
  const found = await linkBy(db, token, codeIn(parameters));
  if (!found) return null;
  const document = await frozenDocument(db, found.releaseId);
  const { terms, notNow, owned, isPersonal } = found;
  const entry = entryInto(document);
  const isForOthers = !(await mayCome(db, found, signIn));
  return {
    // Who may come so often by a code has to say theirs.
    entry: {
      ...entry,
      ...(terms.perCode !== undefined && !isPersonal ? { ownCode: "must" as const } : {}),
      comesAgain: entry.comesAgain || (isPersonal && terms.perLink !== undefined),
    },
    // Whose link it is may go on by it, as long as there is time.
    closed: isForOthers
      ? wordingOf(document).forTeam
      : owned
        ? await lateInWords(db, document, {
            link: owned.link_token,
            startedAt: owned.started_at,
            endsBy: owned.ends_by,
          })
        : notNow && closedInWords(document, notNow),
    end: notNow?.why === "full" && !owned ? endWhenFull(terms, parameters) : null,
    asksWord: terms.who.kind === "word" && !owned,
    isPersonal,
    perBrowser: terms.perBrowser ?? null,
    on: terms.on ?? null,
    unsuited: terms.says.unsuited?.trim() ?? "",
  };
}
