import { compile } from "../compile/compile";
import type { StudyDocument } from "../design/document";
import type { SessionRecord } from "../records/record";
import type { Id } from "../values/ref";
import type { PlayedBy } from "./follower";
import type { SessionMachine } from "./machine";
import { eventsOf } from "./replay";
import { sessionMachine } from "./session-machine";
import type { SessionEvent, SessionState, Step } from "./state";

/** What was to be seen: a scene of a trial since `onset`, a page, a break, or nothing of the study. */
export type Seen =
  | { kind: "scene"; part: Id; trial: number; scene: Id; onset: number }
  | { kind: "page"; part: Id }
  | { kind: "break"; part: Id }
  | { kind: "nothing" };
/** From `at` on, in ms from the session's start, something else was seen: after an event of a record, both counted from 0. */
export type Moment = { at: number; record: number; event: number; seen: Seen };

/** The state is kept before every so-many-th record; any other is worked out from there. */
const between = 20;

/**
 * What a participant saw, moment by moment, worked out from the records by the machine that played the session. Nothing
 * is drawn here: whoever draws asks for the state that belongs to a moment.
 */
export class Shown {
  readonly machine: SessionMachine;
  /** In the order of time; before the first record nothing is seen. */
  readonly moments: readonly Moment[];
  /** How many of the records could be followed: all, unless an earlier version of Lapwing played them otherwise. */
  readonly followed: number;
  readonly #records: readonly SessionRecord[];
  readonly #times: readonly number[];
  readonly #kept: SessionState[] = [];

  constructor(
    document: StudyDocument,
    { participant, seed, group, orders, entered, begins }: PlayedBy,
    records: readonly SessionRecord[],
  ) {
    this.machine = sessionMachine(document, compile(document, participant, seed, group, orders, entered), begins);
    this.#records = records;
    const moments: Moment[] = [{ at: 0, record: 0, event: -1, seen: { kind: "nothing" } }];
    let { state } = this.machine.begin();
    let followed = 0;
    for (const [index, record] of records.entries()) {
      if (index % between === 0) this.#kept.push(state);
      const found: Moment[] = [];
      const after = this.#follow(state, record, (event, number, seen) => {
        const at = Math.max(timeOf(event, record), (found.at(-1) ?? moments.at(-1))?.at ?? 0);
        found.push({ at, record: index, event: number, seen });
      });
      if (after === null) break;
      state = after;
      moments.push(...found);
      followed++;
    }
    this.moments = moments;
    this.#times = moments.map(({ at }) => at);
    this.followed = followed;
  }

  /** The number of the moment that holds at a time. */
  at(time: number): number {
    return Math.max(0, lastUpTo(this.#times, time));
  }

  /** The session's state at a moment. */
  stateAt({ record, event }: Moment): SessionState {
    let from = Math.floor(record / between);
    let state = this.#kept[from] ?? this.machine.begin().state;
    for (from *= between; from <= record; from++) {
      const played = eventsInTime(this.#records[from] as SessionRecord);
      for (const each of from === record ? played.slice(0, event + 1) : played)
        ({ state } = this.machine.next(state, each));
    }
    return state;
  }

  /** Plays one record, telling what is seen anew; gives the state after it, null where the machine makes another record. */
  #follow(
    from: SessionState,
    record: SessionRecord,
    tell: (event: SessionEvent, number: number, seen: Seen) => void,
  ): SessionState | null {
    let state = from;
    let seen: Seen = { kind: "nothing" };
    const made: SessionRecord[] = [];
    try {
      for (const [number, event] of eventsInTime(record).entries()) {
        const step = this.machine.next(state, event);
        state = step.state;
        made.push(...step.commands.flatMap((command) => (command.kind === "record" ? [command.record] : [])));
        const now = seenAfter(record, event, step, made.length > 0, seen);
        if (now !== null) tell(event, number, (seen = now));
      }
    } catch {
      // What was told there may be anything of its type, also what no device gives.
      return null;
    }
    // A study's end was made with the record before it.
    if (record.kind === "end") return state;
    const [first] = made;
    const isIt = first?.kind === record.kind && first.part === record.part && rowOf(first) === rowOf(record);
    return isIt ? state : null;
  }
}

/** The index of the last of increasing times that is not after a time; -1 where all are. */
export function lastUpTo(times: readonly number[], time: number): number {
  let [low, high] = [-1, times.length - 1];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((times[middle] ?? Infinity) <= time) low = middle;
    else high = middle - 1;
  }
  return low;
}

const rowOf = (record: SessionRecord): string | null => ("row" in record ? `${record.trial} ${record.row}` : null);

/** What is seen after an event; null where that is as before. */
function seenAfter(
  record: SessionRecord,
  event: SessionEvent,
  { commands }: Step,
  isOver: boolean,
  before: Seen,
): Seen | null {
  if (isOver || record.kind === "end") return before.kind === "nothing" ? null : { kind: "nothing" };
  if (record.kind === "break") return event.kind === "page-shown" ? { kind: "break", part: record.part } : null;
  if (record.kind === "page") return { kind: "page", part: record.part };
  const next = commands.find((command) => command.kind === "show-scene");
  if (next?.kind === "show-scene" && "at" in event)
    return { kind: "scene", part: record.part, trial: record.trial, scene: next.scene, onset: event.at };
  return commands.some(({ kind }) => kind === "refresh") && before.kind === "scene" ? { ...before } : null;
}

/** When an event happened; what was answered on a page, when it was answered last. */
function timeOf(event: SessionEvent, record: SessionRecord): number {
  if (event.kind === "page-answer" && record.kind === "page")
    return Math.min(record.done, Math.max(record.shown, event.entry.last ?? record.shown));
  return "at" in event ? event.at : 0;
}

/** The events of a record in the order in which they happened. */
function eventsInTime(record: SessionRecord): SessionEvent[] {
  const events = eventsOf(record);
  if (record.kind !== "page") return events;
  // What left the page comes last, where a rule did not.
  const leaving = record.left === "rule" ? [] : events.splice(-1);
  return [...events.toSorted((a, b) => timeOf(a, record) - timeOf(b, record)), ...leaving];
}
