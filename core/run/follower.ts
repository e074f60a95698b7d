import { compile } from "../compile/compile";
import type { StudyDocument } from "../design/document";
import type { Seeded } from "../order/place";
import type { AnswerRecord, PageRecord, SessionRecord, TrialRecord } from "../records/record";
import { mostEarly, mostRevised } from "./answer-window";
import { sessionMachine } from "./session-machine";
import type { SessionMachine } from "./machine";
import { eventsOf } from "./replay";
import type { Beginning, Step } from "./state";

/** Who plays a session, and what was drawn for them; `entered` says where they stand among all who began. */
export type PlayedBy = Seeded & { entered?: number; begins?: Beginning };

/** So far, in ms, a record may begin before the one before it has ended: frames and events are stamped apart. */
const overlapMs = 1000;

/**
 * Follows a session record by record, as its plan was made: takes one only if the machine, given the events it tells of,
 * makes the same. Nothing of a record that is not taken remains.
 */
export class Follower {
  /** How many trials its plan has. */
  readonly trials: number;
  readonly #machine: SessionMachine;
  #step: Step;
  /** Made by the machine together with the latest record and not taken yet: the end. */
  #pending: SessionRecord[] = [];
  #position = 0;
  #latest = 0;

  /** The participant's number; that of `noPlace` while the session has none. */
  readonly participant: number;

  constructor(document: StudyDocument, { participant, group, orders, seed, entered, begins }: PlayedBy) {
    const plan = compile(document, participant, seed, group, orders, entered);
    this.participant = participant;
    this.trials = plan.trialCount;
    this.#machine = sessionMachine(document, plan, begins);
    this.#step = this.#machine.begin();
  }

  /** Whether the session stands where places are given, and has none yet. */
  get isAtLine(): boolean {
    return this.#step.state.phase.kind === "place";
  }

  /** The number of the last record taken; 0 before the first. */
  get position(): number {
    return this.#position;
  }

  /** Takes the next record: null, or why it cannot follow. */
  take(record: SessionRecord): string | null {
    if (record.number !== this.#position + 1) return `record ${this.#position + 1} is to come next`;
    const problem = timeProblem(record, this.#latest - overlapMs) ?? lengthProblem(record);
    if (problem !== null) return problem;
    let step = this.#step;
    const made = [...this.#pending];
    try {
      for (const event of eventsOf(record)) {
        step = this.#machine.next(step.state, event);
        made.push(...step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : [])));
      }
    } catch {
      // What is told there may be anything of its type, also what no device gives.
      return "it cannot be replayed";
    }
    const wanted = made.shift();
    if (!wanted) return step.state.phase.kind === "done" ? "the session has ended" : "it is not what comes next";
    const differs = difference(wanted, record) ?? rulesDifference(wanted, record);
    if (differs !== null) return differs;
    this.#step = step;
    this.#pending = made;
    this.#position = record.number;
    this.#latest = Math.max(this.#latest, endOf(record));
    return null;
  }
}

/** Why a record is not the one that the machine made of its own events; null where it is. */
function difference(wanted: SessionRecord, record: SessionRecord): string | null {
  if (wanted.kind !== record.kind) return `a ${wanted.kind} is to come next`;
  if (wanted.kind === "end" && record.kind === "end")
    return JSON.stringify(wanted.ended) === JSON.stringify(record.ended) ? null : "the session ends otherwise";
  if (wanted.kind === "end" || record.kind === "end") return null;
  if (wanted.part !== record.part) return `the part “${wanted.part}” is to come next`;
  if (wanted.kind === "page" && record.kind === "page") return pageDifference(wanted, record);
  if (wanted.kind === "break" && record.kind === "break")
    return wanted.after === record.after ? null : `the break after trial ${wanted.after} is to come next`;
  if ((wanted.kind === "trial" || wanted.kind === "broken-off") && wanted.kind === record.kind) {
    if (wanted.trial !== record.trial) return `trial ${wanted.trial} is to come next`;
    if (wanted.pass !== record.pass || wanted.row !== record.row)
      return `trial ${wanted.trial} has row “${wanted.row}” in pass ${wanted.pass}`;
    if (JSON.stringify(wanted.settled) !== JSON.stringify(record.settled))
      return `trial ${wanted.trial} cannot have had these values`;
    if (!isSameDraw(wanted.fromPools, record.fromPools)) return `trial ${wanted.trial} drew something else`;
    const scenes = ({ scenes }: typeof wanted) => scenes.map(({ scene }) => scene).join(" ");
    if (scenes(wanted) !== scenes(record)) return `trial ${wanted.trial} has other scenes`;
    const scored = ({ answers }: typeof wanted) => JSON.stringify(answers.map(scoreOf));
    if (scored(wanted) !== scored(record)) return `trial ${wanted.trial} was answered otherwise`;
  }
  return null;
}

type FromPools = TrialRecord["fromPools"];
const isSameDraw = (wanted: FromPools = {}, recorded: FromPools = {}): boolean => {
  const columns = new Set([...Object.keys(wanted), ...Object.keys(recorded)]);
  return [...columns].every((column) => wanted[column] === recorded[column]);
};

/** Why rules did something else than a record tells; null where they did the same. */
function rulesDifference(wanted: SessionRecord, record: SessionRecord): string | null {
  const told = ({ fired = [], variables = {} }: SessionRecord) => JSON.stringify([fired, variables]);
  if (told(wanted) !== told(record)) return "its rules did otherwise";
  const when = (of: SessionRecord) =>
    of.kind === "trial" || of.kind === "broken-off" ? [of.attempt, of.inAttempt, of.showing] : [];
  return JSON.stringify(when(wanted)) === JSON.stringify(when(record)) ? null : "it was another attempt";
}

/** Why a page was not answered as told; null where it was. */
function pageDifference(wanted: PageRecord, record: PageRecord): string | null {
  if (wanted.left !== record.left) return "the page was left otherwise";
  const told = ({ answers = [] }: PageRecord) =>
    JSON.stringify(answers.map(({ question, state, value, order }) => [question, state, value, order ?? null]));
  if (told(wanted) !== told(record)) return "the page was answered otherwise";
  const isLate = (record.answers ?? []).some(
    ({ first, last }) =>
      (first === null) !== (last === null) || (first !== null && last !== null && (first > last || last > record.done)),
  );
  return isLate ? "its times do not increase" : null;
}

const scoreOf = ({ answer, given, right, outcome }: AnswerRecord) => [answer, given?.value ?? null, right, outcome];

/** What is wrong with how much a record holds; null where the machine could have kept as much. */
function lengthProblem(record: SessionRecord): string | null {
  if (record.kind !== "trial" && record.kind !== "broken-off") return null;
  const isTooLong = record.answers.some(
    ({ early, revised }) => early.length > mostEarly || revised.length > mostRevised,
  );
  return isTooLong ? "it holds more answers than are kept of a trial" : null;
}

/** The session time at which a record ends. */
const endOf = (record: SessionRecord): number =>
  "done" in record ? record.done : "at" in record ? record.at : (record.scenes.at(-1)?.end ?? 0);

/** What is wrong with a record's times, none of which may lie before `from`; null where they increase. */
function timeProblem(record: SessionRecord, from: number): string | null {
  const times =
    record.kind === "page" || record.kind === "break"
      ? [record.shown, record.done]
      : record.kind === "end"
        ? [record.at]
        : [...record.scenes.flatMap(({ onset, end }) => [onset, end]), ...("at" in record ? [record.at] : [])];
  let before = from;
  for (const time of times) {
    if (time < before) return "its times do not increase";
    before = time;
  }
  return null;
}
