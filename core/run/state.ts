import type { Plan, PlannedTrial } from "../compile/compile";
import { blockOf } from "../design/lookup";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Input } from "../devices/input";
import type { Observation } from "../items/observation";
import type { Problem } from "../questions/kind";
import type { Entries, Entry } from "../questions/entry";
import type { PageAnswer } from "../records/page-answer";
import type { AnswerRecord, EndRecord, Interruption, SceneEnd, SceneRecord, SessionRecord } from "../records/record";
import type { Outcomes } from "../scores/score";
import { contextFor, type Context } from "../values/context";
import type { Id } from "../values/ref";
import type { Tally } from "../values/tally";

/** What the driver tells the machine. `at` is in milliseconds from the session's start. */
export type SessionEvent =
  | { kind: "page-shown"; at: number }
  | { kind: "continue"; at: number }
  /** Where a question of the page stands now; what stood there before is replaced. */
  | { kind: "page-answer"; entry: Entry }
  /** The participant was told what is missing or wrong on the page. */
  | { kind: "remind"; at: number }
  | { kind: "back"; at: number }
  | { kind: "time-up"; at: number }
  /** The page is left because the session is about to be left for good. */
  | { kind: "page-left"; at: number }
  /**
   * The next scene (or the end of the trial) took effect in the frame at `at`; `late` counts frames it came too late, and
   * `ended` says how the scene before it ended.
   */
  | { kind: "flip"; at: number; late: number; ended?: SceneEnd | undefined }
  /** Something the participant did, stamped with its own time. */
  | { kind: "input"; at: number; input: Input }
  /** Something an item was seen to do. It is recorded and changes nothing else. */
  | { kind: "observed"; observation: Observation }
  /** Something came between; the trial is finished all the same, and says so. */
  | { kind: "interrupted"; why: Interruption }
  /** The trial is broken off where it stands and begins again. */
  | { kind: "break-off"; at: number; why: Interruption }
  /** The session has its place: this machine plays the whole plan. */
  | { kind: "placed" }
  /** The participant leaves for good. */
  | { kind: "withdraw"; at: number };
export type EventOf<K extends SessionEvent["kind"]> = Extract<SessionEvent, { kind: K }>;

/** What the machine asks of the driver. */
export type Command =
  | { kind: "show-page"; part: Id }
  /** The page stays: this is missing or wrong. */
  | { kind: "ask-again"; problems: { question: Id; problem: Problem }[] }
  /** Show the block's break, which ends with `continue`. */
  | { kind: "show-break"; part: Id }
  /** Build this trial hidden; then send a flip when its first scene can be shown. */
  | { kind: "prepare-trial"; part: Id; trial: PlannedTrial }
  /** Show this scene in the present frame; send the next flip after `planned` ms, or only when asked (null). */
  | { kind: "show-scene"; scene: Id; planned: number | null }
  /** The scene is over early: send a flip with the next frame. */
  | { kind: "flip-now" }
  /** A value shown in the coming scenes may have changed. */
  | { kind: "refresh" }
  | { kind: "record"; record: SessionRecord }
  /** The session needs its place now: ask for it, then send `placed` to the machine of the whole plan. */
  | { kind: "ask-place" }
  | { kind: "finish" };

/** How far one answer of a trial is. */
export type AnswerProgress = Omit<AnswerRecord, "answer" | "outcome"> & {
  openedAt: number | null;
  closedAt: number | null;
};

/*
 * Where a session is. `part` is an index into the plan's parts, `trial` one into the trials of that part.
 */
export type InPage = {
  kind: "page";
  part: number;
  shown: number | null;
  entries: Entries;
  /** When the participant was told that something is missing or wrong; null before. */
  reminded: number | null;
};
/** `trial`: the one that follows the break. */
export type InBreak = { kind: "break"; part: number; trial: number; shown: number | null };
export type InTrial = {
  kind: "trial";
  part: number;
  trial: number;
  /** Index of the scene on show; -1 while the trial is prepared. */
  scene: number;
  scenes: SceneRecord[];
  /** One for each of the block's answers, in its order. */
  answers: AnswerProgress[];
  /** The answer that `last` stands for: the one opened or given most recently, of those that can be right or wrong. */
  latest: number;
  lateFrames: number;
  observed: Observation[];
  interrupted: Interruption | null;
  /** The tally as the trial began. */
  before: Tally;
};
/** The first pages are over; `part` is the one that follows once the session has its place. */
export type AtLine = { kind: "place"; part: number };
export type Phase = InPage | InBreak | InTrial | AtLine | { kind: "done" };

export type SessionState = {
  phase: Phase;
  nextRecord: number;
  tally: Tally;
  /** How questions stand that count, by id. */
  answers: Outcomes;
  /** What was recorded last of each question, whether it counts or not. */
  given: Readonly<Record<Id, PageAnswer>>;
};
export type Step = { state: SessionState; commands: Command[] };

/** What is played. */
export type Course = { document: StudyDocument; plan: Plan };

/** Where a session goes when a phase is over. */
export type Destination =
  | { to: "part"; part: number }
  /** A page ends the session. */
  | { to: "end"; ended: NonNullable<EndRecord["ended"]> }
  /** The session stands in this phase. */
  | { to: "nowhere"; phase: Phase }
  | { to: "trial" | "break"; part: number; trial: number };
/** A phase is over: what is recorded of it (its number is given to it), and where the session goes. */
export type Leaving = { state: SessionState; entry: Unnumbered; at: number; destination: Destination };
/** A record without its number. */
export type Unnumbered = SessionRecord extends infer R ? (R extends SessionRecord ? Omit<R, "number"> : never) : never;

export const stay = (state: SessionState): Step => ({ state, commands: [] });

export const plannedBlock = ({ plan }: Course, { part }: { part: number }) =>
  plan.parts[part] as Extract<Plan["parts"][number], { kind: "block" }>;
export const plannedTrial = (course: Course, phase: InTrial): PlannedTrial =>
  plannedBlock(course, phase).trials[phase.trial] as PlannedTrial;
/** The block a trial or break belongs to. */
export const blockIn = (course: Course, phase: InTrial | InBreak): Block =>
  blockOf(course.document, plannedBlock(course, phase).part);

/** What bindings see in a state. */
export function contextIn(course: Course, { phase, tally }: SessionState): Context {
  const { plan, document } = course;
  const whose = { study: document, group: plan.group, participant: plan.participant };
  const isPractice = (phase.kind === "trial" || phase.kind === "break") && blockIn(course, phase).practice;
  if (phase.kind !== "trial") return contextFor(whose, { isPractice }, tally);
  const { values, placed } = plannedTrial(course, phase);
  return contextFor(whose, { values, placed, isPractice }, tally);
}

/** Gives a record its number and puts it before what the step asks. */
export function recorded(step: Step, entry: Unnumbered): Step {
  const { kind, ...rest } = entry;
  const number = step.state.nextRecord;
  return {
    state: { ...step.state, nextRecord: number + 1 },
    commands: [{ kind: "record", record: { kind, number, ...rest } as SessionRecord }, ...step.commands],
  };
}
