import { mostRuns } from "../core/allocate/runs";
import type { Block } from "../core/design/block";
import type { StudyDocument } from "../core/design/document";
import { allRules, anyDoes } from "../core/design/all-rules";
import type { LogChunk } from "../core/records/log";
import type { SessionRecord } from "../core/records/record";
import { whole } from "../core/shape/plain";
import { isDeeperThan } from "../core/shape/depth";
import { presentRecordSent } from "../core/records/stored";
import { logChunk } from "../core/records/log";
import { recordShape, saysItIsARecord } from "../core/records/record";
import type { SessionRow } from "./session-of-secret";

/** Records a player may send at once. */
export const mostRecordsAtOnce = 500;
/** Pieces of the log it may send beside them. */
export const mostChunksAtOnce = 200;

/** What records of a block can name. */
type Named = { rows: Set<string>; scenes: Set<string>; answers: string };
const namedIn = new WeakMap<Block, Named>();
function namesOf(block: Block): Named {
  const known = namedIn.get(block);
  if (known) return known;
  const made = {
    rows: new Set(block.table.rows.map(({ id }) => id)),
    scenes: new Set(block.scenes.map(({ id }) => id)),
    answers: block.answers.map(({ id }) => id).join(" "),
  };
  namedIn.set(block, made);
  return made;
}

/** A record as sent, brought into the present form, checked in shape and against the release it was played on; null where it does not fit. */
export function fittingRecord(
  value: unknown,
  { document, trialsPlanned }: Pick<SessionRow, "document" | "trialsPlanned">,
): SessionRecord | null {
  if (!saysItIsARecord(value)) return null;
  const record = presentRecordSent(value, document);
  if (record === null || !recordShape.fits(record)) return null;
  const mostTrials = trialsPlanned * mostRuns(document);
  if (record.number > mostNumbers(document, mostTrials)) return null;
  if (record.kind === "end") return record;
  const part = Object.hasOwn(document.parts, record.part) ? document.parts[record.part] : undefined;
  if (record.kind === "page") return part?.kind === "page" ? record : null;
  if (part?.kind !== "block") return null;
  if (record.kind === "break") return part.breaks ? record : null;
  const { rows, scenes, answers } = namesOf(part);
  const fits =
    record.trial <= mostTrials &&
    rows.has(record.row) &&
    record.scenes.every(({ scene }) => scenes.has(scene)) &&
    record.answers.map(({ answer }) => answer).join(" ") === answers;
  return fits ? record : null;
}

/** A session cannot have more records: each trial broken off a few times, each part, each break. */
const mostNumbers = (document: StudyDocument, trials: number) =>
  // Rules can show a page after each trial.
  trials * (rulesShowPages(document) ? 24 : 12) + Object.keys(document.parts).length * mostRuns(document) + 1000;
const rulesShowPages = (document: StudyDocument): boolean => anyDoes(allRules(document), "page");

const mostDepth = 20;
/** Made once: a schema costs more to make than to ask. */
const waitingShape = whole(0, 10_000_000);

/** `waiting`: how many records were still with the participant then. */
export type Sent = { records: SessionRecord[]; log: LogChunk[]; waiting: number };

/** What was sent, checked; a sentence where it cannot be taken. A bare list is taken for records, as players used to send. */
export function asSent(sent: unknown, session: SessionRow): Sent | string {
  if (isDeeperThan(sent, mostDepth)) return "What was sent is nested deeper than any record is.";
  const {
    records,
    log = [],
    waiting = 0,
    ...unknown
  } = (Array.isArray(sent) ? { records: sent } : typeof sent === "object" && sent !== null ? sent : {}) as {
    records?: unknown;
    log?: unknown;
    waiting?: unknown;
  };
  if (!Array.isArray(records) || records.length > mostRecordsAtOnce)
    return `Send a list of at most ${mostRecordsAtOnce} records.`;
  if (!Array.isArray(log) || log.length > mostChunksAtOnce || Object.keys(unknown).length > 0)
    return `Send records, and beside them at most ${mostChunksAtOnce} pieces of the log.`;
  const fitting = records.map((value) => fittingRecord(value, session));
  const broken = fitting.indexOf(null);
  if (broken >= 0) return `Record ${broken + 1} of those sent does not fit this study.`;
  if (!log.every(logChunk.fits)) return "The log does not have the right form.";
  if (!waitingShape.fits(waiting)) return "How many records wait should be a whole number.";
  return { records: fitting.filter((each) => each !== null), log: log as LogChunk[], waiting: Number(waiting) };
}
