import type { Transaction } from "kysely";
import { isWord } from "../core/collect/terms";
import { plannedAssignment } from "../core/allocate/allocate";
import { hasPlace, type Place } from "../core/order/place";
import { outline } from "../core/compile/compile";
import { seedOf } from "../core/compile/seed";
import type { StudyDocument } from "../core/design/document";
import { entryInto } from "../core/run/entry";
import type { Rehearsal } from "../core/run/rehearsal";
import type { SessionData } from "../core/run/session-data";
import type { Given } from "../core/run/state";
import type { SessionRecord } from "../core/records/record";
import { looksAtDevice, type Device } from "../core/values/device";
import { givenFor } from "../core/values/given";
import type { Id, Value } from "../core/values/ref";
import { newCompletionCode, newGoOnCode, newId, newSecret, secretHash } from "./chance";
import { countIntake, intakeProblem } from "./intake";
import { lockStudy } from "./database/locked";
import { closedInWords, lateInWords, linkBy, wordingOf, wrongWord, type LinkEntry } from "./links";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { frozenDocument } from "./frozen-documents";
import { assignForStart, whatPlaceNeeds, type Asked, type Parameters } from "./assignment";
import { rehearsalRelease } from "./releases";
import { beginningOf, forgetInPlay, resumeSession, sessionOfSecret } from "./session-of-secret";
import type { Study } from "./studies";

/** `goOn`: no session that can go on has the code that was given; `word`: the link asks for another word. */
export type Started =
  { ok: true; session: SessionData } | { ok: false; reason: string; goOn?: "unknown"; word?: "wrong" };

/** What the entry page of a link shows: why nobody can begin by it (null where one can), and whether it asks for a word; null where the link leads nowhere. */
export async function entryOf({ db }: Store, token: string): Promise<LinkEntry | null> {
  const found = await linkBy(db, token);
  if (!found) return null;
  const document = await frozenDocument(db, found.releaseId);
  const { terms, why, owned } = found;
  return {
    entry: entryInto(document),
    // Whose link it is may go on by it.
    closed: why === null || owned ? null : closedInWords(document, terms, why),
    asksWord: terms.who.kind === "word" && !owned,
    perBrowser: terms.perBrowser ?? null,
  };
}

const unknownCode: Started = { ok: false, reason: "No session that can go on has this code.", goOn: "unknown" };

/** The session secret, made by the player: 192 random bits. */
export const secretShape = /^[\w-]{32}$/;

/**
 * Starts a session on an entry link: number, group and orders are assigned in one transaction, so that simultaneous
 * starts stay balanced. The secret is the player's own; the same one again (an answer that got lost) gives the session
 * it has started. `parameters` are those of the address the participant came by; `goOn` is the code with which a session
 * begun at another computer is handed over to this one, `word` the one a link may ask for.
 */
export async function startSession(
  store: Store,
  token: string,
  secret: string,
  browser: string,
  parameters: Parameters = {},
  { goOn = null, word = "" }: { goOn?: string | null; word?: string } = {},
): Promise<Started> {
  if (!secretShape.test(secret)) return { ok: false, reason: "The session's secret should be 32 letters and digits." };
  let movedFrom: string | null = null;
  const made = await store.write(async (trx): Promise<Started | null> => {
    const there = await trx
      .selectFrom("session")
      .select("id")
      .where("token_hash", "=", secretHash(secret))
      .executeTakeFirst();
    if (there) return null;
    let link = await linkBy(trx, token);
    if (link?.isPersonal) {
      // Of two who come by it at the same moment the second is to see the first.
      await lockStudy(trx, link.studyId);
      link = await linkBy(trx, token);
    }
    if (!link) return { ok: false, reason: "This link is not open. Ask the researcher for the right one." };
    const { studyId, releaseId, terms, why, owned } = link;
    const document = await frozenDocument(trx, releaseId);
    /** Goes on with a session at this computer, where it is not too late for that. */
    const goOnWith = async (there: NonNullable<typeof owned>): Promise<Started | null> => {
      const late = await lateInWords(trx, document, { link: there.link_token, startedAt: there.started_at });
      if (late !== null) return { ok: false, reason: late };
      movedFrom = await moved(trx, there, secret);
      return null;
    };
    // By a link that was closed nothing begins, and what has begun goes on.
    if (goOn !== null) {
      if (!document.settings.participation.elsewhere) return unknownCode;
      await lockStudy(trx, studyId);
      const there = await sessionToMove(trx, studyId, goOn);
      return there ? goOnWith(there) : unknownCode;
    }
    // Whose link it is goes on by it, wherever that is.
    if (owned) return goOnWith(owned);
    if (why !== null) return { ok: false, reason: closedInWords(document, terms, why) };
    if (!isWord(terms, word)) return { ok: false, reason: wrongWord(document), word: "wrong" };
    const full = await intakeProblem(store, trx, studyId, token, true);
    if (full !== null) return { ok: false, reason: full };
    const given = await assignForStart(trx, studyId, document, { parameters });
    if (!given.ok) return given;
    await countIntake(store, trx, studyId, token, { sessions: 1, characters: 0 });
    return {
      ok: true,
      session: await insertSession(trx, secret, {
        studyId,
        releaseId,
        link: token,
        document,
        ...given,
        asked: { parameters },
        pilot: false,
        browser,
      }),
    };
  });
  if (made) return made;
  if (movedFrom !== null) forgetInPlay(store, movedFrom);
  const session = await resumeSession(store, secret);
  if (session) return { ok: true, session };
  // Another computer may have taken it over at the same moment.
  const row = await sessionOfSecret(store, secret);
  const taken = row?.superseded ? wordingOf(row.document).otherComputer : null;
  return { ok: false, reason: taken ?? "This session cannot be found. Open the link again." };
}

/** The session that has this code for going on elsewhere, and is still going on. */
const sessionToMove = (trx: Transaction<Tables>, studyId: string, goOn: string) =>
  trx
    .selectFrom("session")
    .select(["id", "token_hash", "link_token", "started_at"])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("go_on_code", "=", goOn.trim().toUpperCase().slice(0, 20))
    .where("state", "=", "active")
    .executeTakeFirst();

/**
 * Hands a session over to the secret of another computer; the secret it was played with before can from then on only send
 * what it still has. Gives what was kept of that secret.
 */
async function moved(
  trx: Transaction<Tables>,
  there: { id: string; token_hash: string },
  secret: string,
): Promise<string> {
  await trx
    .insertInto("earlier_token")
    .values({ token_hash: there.token_hash, session_id: there.id, replaced_at: new Date().toISOString() })
    .execute();
  await trx
    .updateTable("session")
    .set({ token_hash: secretHash(secret) })
    .where("id", "=", there.id)
    .execute();
  return there.token_hash;
}

/**
 * Starts a session at this computer on a release, as the experimenter says: with a participant's number or the next free
 * one, in a chosen group or the next in turn.
 */
export async function startInLab(
  store: Store,
  studyId: string,
  releaseId: string,
  asked: { participant: number | null; group: Id | null; parameters: Parameters },
  browser: string,
): Promise<{ ok: true; secret: string } | { ok: false; reason: string }> {
  const secret = newSecret();
  return store.db.transaction().execute(async (trx) => {
    const release = await trx
      .selectFrom("release")
      .select("id")
      .where("id", "=", releaseId)
      .where("study_id", "=", studyId)
      .where("number", "is not", null)
      .executeTakeFirst();
    if (!release) return { ok: false, reason: "This release is gone. Load the page again." };
    const document = await frozenDocument(trx, release.id);
    const given = await assignForStart(trx, studyId, document, asked);
    if (!given.ok) return given;
    const fresh = { studyId, releaseId, link: null, document, ...given, asked, pilot: false, browser };
    await insertSession(trx, secret, fresh);
    return { ok: true, secret };
  });
}

/** Excludes a session from what counts, or includes it again. Its records stay as they are. */
export async function setExcluded({ db }: Store, studyId: string, id: string, isExcluded: boolean): Promise<void> {
  await db
    .updateTable("session")
    .set({ excluded_at: isExcluded ? new Date().toISOString() : null })
    .where("id", "=", id)
    .where("study_id", "=", studyId)
    .execute();
}

/** What a researcher chooses for a rehearsal; `given` are variables set by hand, by id, and points by a name of their own. */
export type AskedRehearsal = { participant: number; given?: Given; how?: Rehearsal };

/** Starts a rehearsal of the study as it is saved, as a chosen participant. Its data are pilot data. */
export async function startRehearsal(
  store: Store,
  study: Study,
  { participant, given = {}, how = {} }: AskedRehearsal,
  browser: string,
): Promise<{ secret: string; session: SessionData }> {
  const releaseId = await rehearsalRelease(store, study);
  const { document } = study;
  const secret = newSecret();
  const session = await store.db.transaction().execute((trx) =>
    insertSession(trx, secret, {
      studyId: study.id,
      releaseId,
      link: null,
      document,
      place: { participant, ...plannedAssignment(document, participant) },
      stratum: "",
      code: null,
      sitting: 1,
      entered: 0,
      asked: null,
      pilot: true,
      rehearsal: { how, given },
      browser,
    }),
  );
  return { secret, session };
}

type NewSession = {
  studyId: string;
  releaseId: string;
  link: string | null;
  document: StudyDocument;
  place: Place;
  stratum: string;
  code: string | null;
  sitting: number;
  entered: number;
  /** Needed until it has its place. */
  asked: Asked | null;
  pilot: boolean;
  rehearsal?: { how: Rehearsal; given: Given };
  browser: string;
};

/**
 * Keeps on what device a session begins: once, before its first record, and only where its study looks at it. Gives what is
 * kept; null where nothing is.
 */
export async function setDevice(store: Store, secret: string, device: Device): Promise<Device | null> {
  const row = await sessionOfSecret(store, secret);
  if (!row || row.superseded || !looksAtDevice(row.document)) return null;
  const ofSession = store.db.updateTable("session").where("id", "=", row.id);
  await ofSession
    .set({ device: JSON.stringify(device) })
    .where("records", "=", 0)
    .where("device", "is", null)
    .execute();
  forgetInPlay(store, row.tokenHash);
  return (await sessionOfSecret(store, secret))?.begins.device ?? null;
}

/** What variables held at the end of the participant's sitting before this one, where any is kept. */
async function keptBefore(
  trx: Transaction<Tables>,
  { document, place, studyId, sitting, code }: NewSession,
): Promise<Record<Id, Value | null>> {
  if (sitting < 2 || !document.variables.some(({ kept }) => kept)) return {};
  const theirs = trx
    .selectFrom("session")
    .innerJoin("record", "record.session_id", "session.id")
    .select("record.body")
    .where("session.study_id", "=", studyId)
    .where("session.pilot", "=", 0)
    .where("session.sitting", "<", sitting);
  const mine = hasPlace(place)
    ? theirs.where("session.participant", "=", place.participant)
    : theirs.where("session.participant_code", "=", code);
  const last = await mine
    .orderBy("session.sitting", "desc")
    .orderBy("record.number", "desc")
    .limit(1)
    .executeTakeFirst();
  return last ? ((JSON.parse(last.body) as SessionRecord).variables ?? {}) : {};
}

async function insertSession(trx: Transaction<Tables>, secret: string, fresh: NewSession): Promise<SessionData> {
  const { document, place, pilot } = fresh;
  const { participant, group, orders } = place;
  const [id, at] = [newId("s"), new Date().toISOString()];
  const seed = seedOf(document, fresh.sitting);
  const goOn = document.settings.participation.elsewhere && !pilot ? newGoOnCode() : null;
  const { trialCount, parts } = outline(document, participant, group, orders);
  const given = {
    ...givenFor(document.variables, fresh.asked?.parameters ?? {}, await keptBefore(trx, fresh)),
    ...fresh.rehearsal?.given,
  };
  const begins = {
    given: Object.keys(given).length > 0 ? JSON.stringify(given) : null,
    rehearsal: fresh.rehearsal ? JSON.stringify(fresh.rehearsal.how) : null,
    device: null,
  };
  await trx
    .insertInto("session")
    .values({
      id,
      study_id: fresh.studyId,
      release_id: fresh.releaseId,
      link_token: fresh.link,
      token_hash: secretHash(secret),
      participant,
      entered: fresh.entered,
      ...begins,
      asked: hasPlace(place) || fresh.asked === null ? null : JSON.stringify(whatPlaceNeeds(document, fresh.asked)),
      group_id: group,
      orders: JSON.stringify(orders),
      stratum: fresh.stratum,
      participant_code: fresh.code,
      go_on_code: goOn,
      sitting: fresh.sitting,
      pilot: pilot ? 1 : 0,
      state: "active",
      records: 0,
      trials: 0,
      trials_planned: trialCount,
      part: parts[0] ?? null,
      code: newCompletionCode(),
      started_at: at,
      seen_at: at,
      finished_at: null,
      browser: fresh.browser.slice(0, 300),
    })
    .execute();
  return {
    session: id,
    ...place,
    seed,
    entered: fresh.entered || participant,
    begins: beginningOf(begins),
    pilot,
    startedAt: at,
    document,
    entry: entryInto(document),
    records: [],
    finished: false,
    goOn,
    code: null,
  };
}
