import type { Transaction } from "kysely";
import { isWord, type WhyNot } from "../core/collect/terms";
import type { SessionData } from "../core/run/session-data";
import type { Id } from "../core/values/ref";
import { assignForStart, codeIn, forgetLedger, type Parameters } from "./assignment";
import { newSecret, secretHash } from "./chance";
import type { ShownEnd } from "../core/collect/ends";
import { endWhenFull, keepCameWith } from "./ends";
import { lockStudy } from "./database/locked";
import { sessionsWith } from "./codes";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";
import { frozenDocument } from "./frozen-documents";
import { countIntake, intakeProblem } from "./intake";
import { closedInWords, lateInWords, linkBy, mayCome, wrongWord } from "./entering";
import { codeParameter } from "../core/design/allocation";
import { takenBy } from "./link-terms";
import { wordingOf } from "./study-wording";
import { insertSession } from "./new-session";
import { filledWithin, waveGone, waveOf, whyNotInWave } from "./waves";
import { forgetInPlay, resumeSession, sessionOfSecret } from "./session-of-secret";

/** `goOn`: no session that can go on has the code that was given; `word`: the link asks for another word. */
export type Started =
  { ok: true; session: SessionData } | { ok: false; reason: string; goOn?: "unknown"; word?: "wrong"; end?: ShownEnd };

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
  { goOn = null, word = "", signIn = null }: { goOn?: string | null; word?: string; signIn?: string | null } = {},
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
    const code = codeIn(parameters);
    let link = await linkBy(trx, token, code);
    if (link && (link.isPersonal || link.countsUnderWay || link.terms.perCode !== undefined)) {
      // Of two who come at the same moment the second is to see the first.
      await lockStudy(trx, link.studyId);
      link = await linkBy(trx, token, code);
    }
    if (!link) return { ok: false, reason: "This link is not open. Ask the researcher for the right one." };
    const { studyId, waveId, releaseId, terms, notNow, owned, follows } = link;
    const document = await frozenDocument(trx, releaseId);
    /** Goes on with a session at this computer, where it is not too late for that. */
    const goOnWith = async (there: NonNullable<typeof owned>): Promise<Started | null> => {
      const late = await lateInWords(trx, document, {
        ...{ link: there.link_token, startedAt: there.started_at, endsBy: there.ends_by },
      });
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
    const isPilot = terms.who.kind === "team";
    if (!(await mayCome(trx, link, signIn))) return { ok: false, reason: wordingOf(document).forTeam };
    if (notNow !== null) {
      const end = notNow.why === "full" ? endWhenFull(terms, parameters) : null;
      return { ok: false, reason: closedInWords(document, notNow), ...(end ? { end } : {}) };
    }
    if (terms.perCode !== undefined && !link.isPersonal && code === null)
      return { ok: false, reason: wordingOf(document).codeMissing };
    if (!isWord(terms, word)) return { ok: false, reason: wrongWord(document), word: "wrong" };
    const full = await intakeProblem(store, trx, studyId, token, true);
    if (full !== null) return { ok: false, reason: full };
    // Somebody of the team who tries it is no participant, and takes no place.
    const asked = { parameters: isPilot ? withoutCode(parameters) : parameters, follows };
    const given = await assignForStart(
      trx,
      studyId,
      document,
      asked,
      link.filledWithin,
      terms.mostEach ? await takenBy(trx, token) : null,
    );
    if (isPilot) forgetLedger(trx);
    if (!given.ok) {
      const end = given.isFull ? endWhenFull(terms, parameters) : null;
      return { ok: false, reason: given.reason, ...(end ? { end } : {}) };
    }
    await countIntake(store, trx, studyId, token, { sessions: 1, characters: 0 });
    const session = await insertSession(trx, secret, {
      ...{ studyId, releaseId, waveId: isPilot ? null : waveId, link: token, document },
      ...given,
      ...{ asked: { parameters }, pilot: isPilot, browser, longest: terms.longest ?? null },
    });
    await keepCameWith(trx, session.session, terms, parameters);
    return { ok: true, session };
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

const withoutCode = (parameters: Parameters): Parameters =>
  Object.fromEntries(Object.entries(parameters).filter(([name]) => name !== codeParameter));

/** The session that has this code for going on elsewhere, and is still going on. */
const sessionToMove = (trx: Transaction<Tables>, studyId: string, goOn: string) =>
  trx
    .selectFrom("session")
    .select(["id", "token_hash", "link_token", "started_at", "ends_by"])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("id", "in", sessionsWith(trx, studyId, { go_on_code: goOn.trim().toUpperCase().slice(0, 20) }))
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
 * Starts a session at this computer in a wave, as the experimenter says: with a participant's number or the next free one,
 * in a chosen group or the next in turn.
 */
export async function startInLab(
  store: Store,
  studyId: string,
  waveId: string,
  asked: { participant: number | null; group: Id | null; parameters: Parameters },
  browser: string,
  computerId: string | null = null,
): Promise<{ ok: true; secret: string; session: string } | { ok: false; reason: string }> {
  const secret = newSecret();
  return store.db.transaction().execute(async (trx) => {
    await lockStudy(trx, studyId);
    const wave = await waveOf(trx, studyId, waveId);
    if (!wave) return { ok: false, reason: waveGone };
    const why = await whyNotInWave(trx, wave);
    if (why !== null) return { ok: false, reason: notInLab[why] };
    const document = await frozenDocument(trx, wave.release_id);
    const given = await assignForStart(trx, studyId, document, asked, filledWithin(wave));
    if (!given.ok) return given;
    const begun = { studyId, releaseId: wave.release_id, waveId, link: null };
    const { session: id } = await insertSession(trx, secret, {
      ...begun,
      document,
      ...given,
      asked,
      pilot: false,
      browser,
    });
    if (computerId !== null) {
      await trx.updateTable("session").set({ computer_id: computerId }).where("id", "=", id).execute();
      // Whoever takes part sees nothing of the list, until the assistant's key opens it.
      await trx.updateTable("lab_computer").set({ is_locked: 1 }).where("id", "=", computerId).execute();
    }
    return { ok: true, secret, session: id };
  });
}

/** What the experimenter is told where nobody can begin in the wave. */
const notInLab: Record<WhyNot, string> = {
  closed: "This wave is paused or closed. Open it to start a session.",
  early: "This wave has not begun. Change its dates to start a session.",
  over: "This wave is over. Change its dates to start a session.",
  full: "This wave has all the sessions that were wanted. Change its target to start another.",
};

/** Excludes a session from what counts, with the reason where one is given, or includes it again. Its records stay as they are. */
export async function setExcluded(
  { db }: Store,
  studyId: string,
  id: string,
  isExcluded: boolean,
  because: string | null = null,
): Promise<void> {
  await db
    .updateTable("session")
    .set({
      excluded_at: isExcluded ? new Date().toISOString() : null,
      excluded_because: isExcluded ? because : null,
    })
    .where("id", "=", id)
    .where("study_id", "=", studyId)
    .execute();
}
