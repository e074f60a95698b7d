import type { Transaction } from "kysely";
import { allocate, stratumName } from "../core/allocate/allocate";
import { excessInWords } from "../core/allocate/bounds";
import { cellKey, type CellCounts, type Assignment } from "../core/allocate/scheme";
import type { Id } from "../core/values/ref";
import type { StudyDocument } from "../core/design/document";
import type { Orders } from "../core/order/parts";
import type { Store } from "./database/open";
import { lockStudy } from "./database/locked";
import type { Tables } from "./database/tables";

/** The parameters of the address a participant came by. */
export type Parameters = Readonly<Record<string, string>>;
/** The parameter that identifies a participant, so that a later sitting finds the first. */
const codeParameter = "participant";

/** The name a participant came with; null without one. */
const codeIn = (parameters: Parameters): string | null => parameters[codeParameter]?.trim().slice(0, 100) || null;

export type Assigned = {
  ok: true;
  participant: number;
  assignment: Assignment;
  stratum: string;
  code: string | null;
  sitting: number;
};
type Asked = { parameters: Parameters; participant?: number | null; group?: Id | null };

/**
 * The number and assignment for a session that starts now. A returning participant, by code or number, keeps both;
 * anyone else gets the next number and the next assignment, given the sessions that count. Must run in the transaction
 * that adds the session.
 */
export async function assignForStart(
  trx: Transaction<Tables>,
  studyId: string,
  document: StudyDocument,
  asked: Asked,
): Promise<Assigned | { ok: false; reason: string }> {
  const { parameters } = asked;
  const excess = excessInWords(document);
  if (excess !== null) return { ok: false, reason: `This study asks for too much to be played. ${excess}` };
  const code = codeIn(parameters);
  await lockStudy(trx, studyId);
  const before = await earlierSitting(trx, studyId, code, asked.participant ?? null);
  if (before) {
    forgetLedger(trx);
    return {
      ok: true,
      participant: before.participant,
      assignment: { group: before.group_id, orders: JSON.parse(before.orders) as Orders },
      stratum: before.stratum,
      code: before.participant_code,
      sitting: before.sitting + 1,
    };
  }
  const stratum = stratumOf(document, parameters);
  if (!stratum.ok) return stratum;
  const group = groupAsked(document, parameters);
  if (!group.ok) return group;
  const ledger = ledgerOf(trx, studyId);
  const participant = asked.participant ?? ledger.nextNumber ?? (await nextNumber(trx, studyId));
  const counts = await ledger.counts(document, stratum.name);
  const assignment = allocate(document, {
    participant,
    stratum: stratum.name,
    counts,
    group: asked.group ?? group.group,
  });
  if (asked.participant == null) ledger.given(participant, assignment, stratum.name);
  else forgetLedger(trx);
  return { ok: true, participant, assignment, stratum: stratum.name, code, sitting: 1 };
}

/**
 * What one transaction knows about a study's cells: counted once, then kept up to date with its own assignments, so
 * that starts sharing a commit do not each count all sessions.
 */
class Ledger {
  nextNumber: number | null = null;
  readonly #counts = new Map<string, { counts: Map<string, number>; stratum: string; isForStarted: boolean }>();

  constructor(
    private readonly trx: Transaction<Tables>,
    private readonly studyId: string,
  ) {}

  async counts(document: StudyDocument, stratum: string): Promise<CellCounts> {
    const rule = document.allocation.counts;
    const key = JSON.stringify([rule, stratum]);
    const known = this.#counts.get(key);
    if (known) return known.counts;
    const counts = new Map(await cellCounts(this.trx, this.studyId, document, stratum));
    this.#counts.set(key, { counts, stratum, isForStarted: rule.sessions !== "finished" });
    return counts;
  }

  /** A new participant was assigned, whose session is now under way. */
  given(participant: number, assignment: Assignment, stratum: string): void {
    this.nextNumber = participant + 1;
    const key = cellKey(assignment);
    for (const each of this.#counts.values())
      if (each.isForStarted && each.stratum === stratum) each.counts.set(key, (each.counts.get(key) ?? 0) + 1);
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

const earlierSitting = async (
  trx: Transaction<Tables>,
  studyId: string,
  code: string | null,
  participant: number | null,
) =>
  code === null && participant === null
    ? undefined
    : trx
        .selectFrom("session")
        .select(["participant", "group_id", "orders", "stratum", "participant_code", "sitting"])
        .where("study_id", "=", studyId)
        .where("pilot", "=", 0)
        .where((eb) =>
          code !== null ? eb("participant_code", "=", code) : eb("participant", "=", participant as number),
        )
        .orderBy("sitting", "desc")
        .executeTakeFirst();

async function nextNumber(trx: Transaction<Tables>, studyId: string): Promise<number> {
  const last = await trx
    .selectFrom("session")
    .select(({ fn }) => fn.max("participant").as("number"))
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    .executeTakeFirst();
  const gone = await trx.selectFrom("study").select("numbered_to").where("id", "=", studyId).executeTakeFirst();
  return Math.max(last?.number ?? 0, gone?.numbered_to ?? 0) + 1;
}

/** The participants that count in each cell, by the study's own rule; a participant with several sittings counts once. */
export async function cellCounts(
  db: Store["db"] | Transaction<Tables>,
  studyId: string,
  { allocation }: StudyDocument,
  stratum: string | null,
): Promise<CellCounts> {
  const { sessions, activeMinutes, excluded } = allocation.counts;
  const stillThere = new Date(Date.now() - activeMinutes * 60_000).toISOString();
  let query = db
    .selectFrom("session")
    .select(({ fn }) => ["group_id", "orders", fn.count<number>("participant").distinct().as("count")])
    .where("study_id", "=", studyId)
    .where("pilot", "=", 0)
    // Who was not taken further has taken no place.
    .where("state", "not in", ["screened-out", "declined"]);
  if (stratum !== null) query = query.where("stratum", "=", stratum);
  if (excluded === "gives-back") query = query.where("excluded_at", "is", null);
  if (sessions === "finished") query = query.where("state", "=", "finished");
  if (sessions === "finished-and-active")
    query = query.where((eb) => eb.or([eb("state", "=", "finished"), eb("seen_at", ">", stillThere)]));
  const rows = await query.groupBy(["group_id", "orders"]).execute();
  const counts = new Map<string, number>();
  for (const { group_id, orders, count } of rows) {
    const key = cellKey({ group: group_id, orders: JSON.parse(orders) as Orders });
    counts.set(key, (counts.get(key) ?? 0) + count);
  }
  return counts;
}

/** The stratum the address names. A value that the study does not know would make a stratum of its own, so it is refused. */
function stratumOf(
  { allocation }: StudyDocument,
  parameters: Parameters,
): { ok: true; name: string } | { ok: false; reason: string } {
  const values: string[] = [];
  for (const { parameter, values: known } of allocation.strata) {
    const found = known.find((value) => value.toLowerCase() === (parameters[parameter] ?? "").trim().toLowerCase());
    if (found === undefined)
      return {
        ok: false,
        reason: `This link is not complete: its “${parameter}” should be ${known.join(" or ")}. Ask the researcher for the right link.`,
      };
    values.push(found);
  }
  return { ok: true, name: stratumName(values) };
}

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
