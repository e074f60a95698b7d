import type { Transaction } from "kysely";
import { allocateBeside } from "../core/allocate/allocate";
import { excessInWords } from "../core/allocate/bounds";
import { hasPlace, noPlace, type Place } from "../core/order/place";
import { cellKey, type CellCounts } from "../core/allocate/scheme";
import { stratumOf } from "../core/allocate/strata";
import { parameterStrata } from "../core/design/allocation";
import { openingOf } from "../core/order/opening";
import type { Tally } from "../core/values/tally";
import type { Id } from "../core/values/ref";
import { codeParameter } from "../core/design/allocation";
import type { StudyDocument } from "../core/design/document";
import type { Orders } from "../core/order/parts";
import type { LastSitting } from "../core/order/sittings";
import { lockStudy } from "./database/locked";
import { cellCounts } from "./cell-counts";
import type { Taken } from "./link-terms";
import { wordingOf } from "./study-wording";
import { isGivenUp, lastSitting, nextFor, noSittingInLab } from "./sittings";
import { codesOf, sessionsWith } from "./codes";
import type { Store } from "./database/open";
import type { Tables } from "./database/tables";

/** The parameters of the address a participant came by. */
export type Parameters = Readonly<Record<string, string>>;

/** The name a participant came with; null without one. */
export const codeIn = (parameters: Parameters): string | null =>
  parameters[codeParameter]?.trim().slice(0, 100) || null;

export type Assigned = {
  ok: true;
  place: Place;
  stratum: string;
  code: string | null;
  sitting: number;
  repeat: number;
  /** Where the session stands among those that began without a place, from 1; 0 for one that has its place at once. */
  entered: number;
};
/** What decides a place besides answers: the entry link's parameters, and what the experimenter chose. */
export type Asked = {
  parameters: Parameters;
  /** The number the experimenter asked for. */
  participant?: number | null;
  group?: Id | null;
  /** The number of the participant whose link was come by again. */
  follows?: number | null;
};
/** What of this is needed until the session has its place; other parameters are not stored, and a code is by itself. */
export function whatPlaceNeeds({ allocation }: StudyDocument, { parameters, participant, group }: Asked): Asked {
  const names = [allocation.parameter?.name, ...parameterStrata(allocation).map((each) => each.parameter)];
  const needed = Object.entries(parameters).filter(([name]) => names.includes(name));
  return { parameters: Object.fromEntries(needed), participant: participant ?? null, group: group ?? null };
}
/** `isFull`: those who are wanted of their group or stratum are there. */
type NotAssigned = { ok: false; reason: string; isFull?: true };

/**
 * The place for a session that starts now. A returning participant, by code or number, keeps theirs; anyone else gets the
 * next number and the next assignment, given the sessions that count, or none yet where places are given behind the first
 * pages. Must run in the transaction that adds the session.
 */
export async function assignForStart(
  trx: Transaction<Tables>,
  studyId: string,
  document: StudyDocument,
  asked: Asked,
  wave: string | null,
  taken: Taken | null = null,
): Promise<Assigned | NotAssigned> {
  const { parameters } = asked;
  const excess = excessInWords(document);
  if (excess !== null) return { ok: false, reason: `This study asks for too much to be played. ${excess}` };
  const code = codeIn(parameters);
  await lockStudy(trx, studyId);
  const before = await earlierSitting(
    trx,
    studyId,
    asked.follows ? null : code,
    asked.follows ?? asked.participant ?? null,
  );
  const next = before ? sittingAfter(document, before, asked.participant ?? null) : { sitting: 1, repeat: 0 };
  if ("reason" in next) return { ok: false, reason: next.reason };
  if (before?.place) {
    forgetLedger(trx);
    return { ok: true, place: before.place, stratum: before.stratum, code: before.code, ...next, entered: 0 };
  }
  if (openingOf(document).length === 0) {
    const given = await freshPlace(trx, studyId, document, asked, {}, wave, taken);
    return given.ok ? { ...given, code, ...next, entered: 0 } : given;
  }
  // A link that is not complete is refused at once, not after the first pages.
  const refusal = linkProblem(document, parameters);
  if (refusal !== null) return { ok: false, reason: refusal };
  const entered = await ledgerOf(trx, studyId).entering();
  return { ok: true, place: noPlace, stratum: "", code, ...next, entered };
}

/**
 * The place for a session that has come to where places are given: that of another sitting of the same participant, which
 * may have got it meanwhile, or the next. Where the number that was asked for has gone to somebody else since the session
 * began, it gets the next one. Must run in the transaction that gives it to the session.
 */
export async function assignAtLine(
  trx: Transaction<Tables>,
  studyId: string,
  document: StudyDocument,
  asked: Asked & { code: string | null; sitting: number },
  told: Tally["answers"],
  wave: string | null,
  taken: Taken | null,
): Promise<{ ok: true; place: Place; stratum: string } | NotAssigned> {
  await lockStudy(trx, studyId);
  const before = await earlierSitting(trx, studyId, asked.code, asked.participant ?? null);
  if (!before?.place) return freshPlace(trx, studyId, document, asked, told, wave, taken);
  const isTaken = await trx
    .selectFrom("session")
    .select("id")
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where("participant", "=", before.place.participant)
    .where("sitting", "=", asked.sitting)
    .executeTakeFirst();
  if (isTaken) return freshPlace(trx, studyId, document, { ...asked, participant: null }, told, wave, taken);
  forgetLedger(trx);
  return { ok: true, place: before.place, stratum: before.stratum };
}

/** The next number, and the assignment that is due. The study is locked. */
async function freshPlace(
  trx: Transaction<Tables>,
  studyId: string,
  document: StudyDocument,
  asked: Asked,
  told: Tally["answers"],
  wave: string | null,
  taken: Taken | null,
): Promise<{ ok: true; place: Place; stratum: string } | NotAssigned> {
  const stratum = stratumOf(document, asked.parameters, told);
  if ("missing" in stratum) return { ok: false, reason: incomplete(stratum.missing) };
  const group = groupAsked(document, asked.parameters);
  if (!group.ok) return group;
  const ledger = ledgerOf(trx, studyId);
  const participant = asked.participant ?? ledger.nextNumber ?? (await nextNumber(trx, studyId));
  const counts = await ledger.counts(document, stratum.name, wave);
  const start = { participant, stratum: stratum.name, counts, group: asked.group ?? group.group };
  const isStratumTaken = taken?.of === "stratum" && taken.names.has(stratum.name);
  const found = isStratumTaken
    ? null
    : allocateBeside(document, start, taken?.of === "group" ? taken.names : new Set());
  if (!found) return { ok: false, reason: wordingOf(document).isFull, isFull: true };
  const place = { participant, ...found };
  if (asked.participant == null) ledger.given(place, stratum.name, wave);
  else forgetLedger(trx);
  return { ok: true, place, stratum: stratum.name };
}

/** Why nothing can begin with these parameters of a link; null where it can. */
function linkProblem(document: StudyDocument, parameters: Parameters): string | null {
  const stratum = stratumOf(document, parameters, {});
  if ("missing" in stratum) return incomplete(stratum.missing);
  const group = groupAsked(document, parameters);
  return group.ok ? null : group.reason;
}

/**
 * What one transaction knows about a study's cells: counted once, then kept up to date with its own assignments, so
 * that starts sharing a commit do not each count all sessions.
 */
class Ledger {
  nextNumber: number | null = null;
  #entered: number | null = null;
  readonly #counts = new Map<
    string,
    { counts: Map<string, number>; stratum: string; wave: string | null; isForStarted: boolean }
  >();

  constructor(
    private readonly trx: Transaction<Tables>,
    private readonly studyId: string,
  ) {}

  async counts(document: StudyDocument, stratum: string, wave: string | null): Promise<CellCounts> {
    const rule = document.allocation.counts;
    const key = JSON.stringify([rule, stratum, wave]);
    const known = this.#counts.get(key);
    if (known) return known.counts;
    const counts = new Map(await cellCounts(this.trx, this.studyId, document, stratum, wave));
    this.#counts.set(key, { counts, stratum, wave, isForStarted: rule.sessions !== "finished" });
    return counts;
  }

  /** One more session begins without a place; gives where it stands among them, from 1. */
  async entering(): Promise<number> {
    this.#entered ??= await latestEntered(this.trx, this.studyId);
    return ++this.#entered;
  }

  /** A new participant got a place, whose session is now under way. */
  given(place: Place, stratum: string, wave: string | null): void {
    this.nextNumber = place.participant + 1;
    const key = cellKey(place);
    for (const each of this.#counts.values())
      if (each.isForStarted && each.stratum === stratum && (each.wave === null || each.wave === wave))
        each.counts.set(key, (each.counts.get(key) ?? 0) + 1);
  }
}
const ledgers = new WeakMap<Transaction<Tables>, Map<string, Ledger>>();

function ledgerOf(trx: Transaction<Tables>, studyId: string): Ledger {
  const known = ledgers.get(trx) ?? new Map<string, Ledger>();
  ledgers.set(trx, known);
  const ledger = known.get(studyId) ?? new Ledger(trx, studyId);
  known.set(studyId, ledger);
  return ledger;
}

/** Call this after a transaction changes which sessions count other than by assigning the next participant. */
export const forgetLedger = (trx: Transaction<Tables>): void => void ledgers.delete(trx);

type Earlier = {
  place: Place | null;
  stratum: string;
  code: string | null;
  last: LastSitting;
  repeat: number;
  isGivenUp: (document: StudyDocument) => boolean;
};

/** What is known of a participant who was here before: the last sitting's number, and the place if one had it. */
async function earlierSitting(
  trx: Transaction<Tables>,
  studyId: string,
  code: string | null,
  participant: number | null,
): Promise<Earlier | null> {
  if (code === null && participant === null) return null;
  const sittings = await trx
    .selectFrom("session")
    .select(["id", "participant", "group_id", "orders", "stratum", "sitting", "repeat"])
    .select(["state", "finished_at", "seen_at", "excluded_at"])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .where((eb) =>
      code !== null
        ? eb("id", "in", sessionsWith(trx, studyId, { participant_code: code }))
        : eb("participant", "=", participant as number),
    )
    .orderBy("sitting", "desc")
    .orderBy("repeat", "desc")
    .execute();
  const [last] = sittings;
  if (!last) return null;
  const placed = sittings.find(hasPlace);
  const place = placed && {
    participant: placed.participant,
    group: placed.group_id,
    orders: JSON.parse(placed.orders) as Orders,
  };
  return {
    place: place ?? null,
    stratum: placed?.stratum ?? "",
    code: (await codesOf(trx, last.id)).participant,
    last: lastSitting(last),
    repeat: last.repeat,
    isGivenUp: (document) => isGivenUp(document, last),
  };
}

/** The sitting of somebody who was here before, or why there is none. About its days the experimenter decides. */
function sittingAfter(
  document: StudyDocument,
  { last, repeat, isGivenUp: isAnew }: Earlier,
  asked: number | null,
): { sitting: number; repeat: number } | { reason: string } {
  if (isAnew(document)) return { sitting: last.sitting, repeat: repeat + 1 };
  const next = nextFor(document, last);
  if (!("why" in next)) return { sitting: next.sitting, repeat: 0 };
  if (asked === null) return next;
  return next.why === "early" || next.why === "over"
    ? { sitting: last.sitting + 1, repeat: 0 }
    : { reason: noSittingInLab(asked, next.why) };
}

async function latestEntered(trx: Transaction<Tables>, studyId: string): Promise<number> {
  const last = await trx
    .selectFrom("session")
    .select(({ fn }) => fn.max("entered").as("number"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .executeTakeFirst();
  return last?.number ?? 0;
}

export async function nextNumber(trx: Store["db"] | Transaction<Tables>, studyId: string): Promise<number> {
  const last = await trx
    .selectFrom("session")
    .select(({ fn }) => fn.max("participant").as("number"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .executeTakeFirst();
  const gone = await trx.selectFrom("study").select("numbered_to").where("id", "=", studyId).executeTakeFirst();
  return Math.max(last?.number ?? 0, gone?.numbered_to ?? 0) + 1;
}

const incomplete = ({ parameter, values }: { parameter: string; values: readonly string[] }): string =>
  `This link is not complete: its “${parameter}” should be ${values.join(" or ")}. Ask the researcher for the right link.`;

function groupAsked(
  { allocation, groups }: StudyDocument,
  parameters: Parameters,
): { ok: true; group?: Id | undefined } | { ok: false; reason: string } {
  const { method, parameter } = allocation;
  if (method !== "by-parameter" || !parameter) return { ok: true };
  const said = (parameters[parameter.name] ?? "").trim().toLowerCase();
  const group = groups.find(({ id }) => said !== "" && (parameter.values[id] ?? "").trim().toLowerCase() === said);
  if (group) return { ok: true, group: group.id };
  return parameter.otherwise === "least-filled"
    ? { ok: true }
    : {
        ok: false,
        reason: `This link is not complete: its “${parameter.name}” does not name a group. Ask the researcher for the right link.`,
      };
}
