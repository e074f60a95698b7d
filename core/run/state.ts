import type { DrawPools, Plan, PlannedTrial } from "../compile/plan";
import { blockOf } from "../design/lookup";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Input } from "../devices/input";
import type { Observation } from "../items/observation";
import type { Problem } from "../questions/kind";
import type { Entries, Entry } from "../questions/entry";
import type { PageAnswer } from "../records/page-answer";
import { type Act, type Firing } from "../records/firing";
import { pointsKey } from "../records/rule-bounds";
import type { AnswerRecord, EndRecord, Interruption, SceneEnd, SceneRecord, SessionRecord } from "../records/record";
import type { ActionOf } from "../rules/action";
import type { Rehearsal } from "./rehearsal";
import type { Rule } from "../rules/rule";
import type { Outcomes } from "../scores/score";
import { contextFor, type Changes, type Context } from "../values/context";
import type { Device } from "../values/device";
import type { Id, Value } from "../values/ref";
import type { Tally, TrialResult } from "../values/tally";

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
  | {
      kind: "flip";
      at: number;
      late: number;
      ended?: SceneEnd | undefined;
      /** In a trial's first, where it was played before: the values that were settled for it then. */
      settled?: Readonly<Record<Id, number>> | undefined;
    }
  /** Something the participant did, stamped with its own time. */
  | { kind: "input"; at: number; input: Input }
  /** Something an item was seen to do. It is recorded and changes nothing else. */
  | { kind: "observed"; observation: Observation }
  /** Something came between; the trial is finished all the same, and says so. */
  | { kind: "interrupted"; why: Interruption }
  /** The trial is broken off where it stands and begins again. */
  | { kind: "break-off"; at: number; why: Interruption }
  /** Something that only rules react to: the driver tells it where rules wait for it. */
  | { kind: "act"; at: number; happened: Act["happened"] }
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
  | { kind: "flip-now"; by: "answer" | "rule" }
  /** A value shown in the coming scenes may have changed. */
  | { kind: "refresh" }
  /** Rules play a sound of the study's media, at so many per cent of its loudness. */
  | { kind: "sound"; file: Id; volume: number }
  /** Rules do something to a sound or video of the scene on show. */
  | { kind: "media"; item: Id; act: ActionOf<"media">["act"]; volume: number | null }
  | { kind: "marker"; marker: string }
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
  /** What rules reacted to while it was on. */
  acts: readonly Act[];
  /** A rule or criterion shows it: which page it is, where the session goes on, and how many such pages came one after the other. */
  aside?: { page: Id; then: Destination; chain: number };
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
  /** What rules reacted to, besides answers. */
  acts: readonly Act[];
  /** What rules have changed of items. */
  changes: Changes;
  /** Where a rule sends the trial: to a scene, by its index, or past the last one; null where none does. */
  goTo: number | null;
  /** What is played, as it is recorded. */
  planned: PlannedTrial;
  /** What rules asked of the driver as it began: done with its first scene. */
  held: readonly Command[];
  /** How it was as the trial began: so it is again when the trial is broken off. */
  before: Pick<SessionState, "tally" | "made" | "run" | "timers">;
};
/** How far the block is that is played. */
export type BlockRun = {
  /** Which run of the block it is in the session, from 1. */
  attempt: number;
  /** Which one it is since the session came to the block; where its bracket is repeated, these begin anew. */
  own: number;
  /** Trials finished since the session came to the block. */
  total: number;
  /** Which of the attempt's trials, by index, comes at each place; null as they were planned. */
  line: readonly number[] | null;
};
/** One time through a bracket. */
export type Round = { round: number; from: number; results: readonly TrialResult[] };
/** What rules have made until now. */
export type Made = {
  variables: Readonly<Record<Id, Value | null>>;
  points: number;
  /** How often each action of a rule has drawn something. */
  draws: Readonly<Record<string, number>>;
};
/** A rule, or one of its actions, that waits for its time. */
export type Timer = {
  due: number;
  /** It counts from the trial's first onset, which is still to come. */
  fromOnset: boolean;
  rule: Rule;
  /** The action, by index; null where the rule itself is still to be looked at. */
  action: number | null;
  lasts: "trial" | "part" | "session";
  /** The part in which it was put off. */
  part: Id | null;
  /** How often it is still to be done. */
  left: number;
};
/** What a script is to work out or a service is asked, and has not given yet. */
export type Asked = {
  number: number;
  rule: Id;
  by: ActionOf<"script" | "ask">;
  gets: Readonly<Record<string, Value | null>>;
};
/** Where rules and criteria send a session once what is on is over. */
export type Jump =
  | { to: "page"; page: Id }
  | { to: "part"; part: Id }
  | { to: "end-block" | "block-again" }
  | { to: "end"; ended: NonNullable<EndRecord["ended"]> };

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
  /** The session time up to which it was told what happened. */
  now: number;
  made: Made;
  run: BlockRun;
  /** How many trials more than planned the blocks played so far had; below 0 where they had fewer. */
  shift: number;
  /** How often each block has been run, by the index of its part. */
  runs: Readonly<Record<number, number>>;
  /** Brackets that are repeated until good enough: which round it is, where it began, and its trials. */
  rounds: Readonly<Record<Id, Round>>;
  timers: readonly Timer[];
  /** How often something outside the machine was asked, and what has not come yet. */
  outside: { asked: number; waiting: readonly Asked[] };
  /** What rules did since the last record. */
  fired: readonly Firing[];
  jumps: readonly Jump[];
};
export type Step = { state: SessionState; commands: Command[] };

/** How a session begins, where that is not as the study says. It is kept with it, so that replay is the same. */
export type Beginning = {
  /** What variables start with, by id, where that is not what the study says; points under a name of their own. */
  given?: Given | undefined;
  rehearsal?: Rehearsal | null | undefined;
  /** On what it is played. */
  device?: Device | null | undefined;
};
/** What is played; `told` hears what its rules do. */
export type Course = { document: StudyDocument; plan: Plan; told?: Told | undefined } & Beginning & Pieces;
/** Told of each rule that was set off, whether its condition held, and what it saw. The player has nobody to tell. */
export type Told = (rule: Rule, held: boolean, at: number, seen: Context) => void;
/** The pieces of the machine that only some studies need. */
export type Pieces = { rules: Reactions; trials: Trials; following: Following; pools: DrawPools };
export type Reactions = Pick<typeof import("./reacting"), "react" | "takeAct" | "isHeard" | "mayMove"> &
  Pick<typeof import("./good-enough"), "judgedBlock" | "withResult" | "roundsAt" | "backTo">;
export type Trials = Pick<typeof import("./phases/trial"), "enterTrial" | "inTrial" | "brokenOff" | "foreseenIn"> &
  Pick<typeof import("./phases/break"), "enterBreak" | "inBreak">;
export type Following = (typeof import("./following"))["following"];
export type Given = Readonly<Record<Id, Value | null>>;

/** Where a session goes when a phase is over. */
export type Destination =
  | { to: "part"; part: number }
  /** A part that was chosen to begin with, whatever its condition says; in a block with one of its trials. */
  | { to: "chosen"; part: number; trial: number }
  /** A page ends the session. */
  | { to: "end"; ended: NonNullable<EndRecord["ended"]> }
  /** The session stands in this phase. */
  | { to: "nowhere"; phase: Phase }
  | { to: "trial" | "break"; part: number; trial: number }
  /** The block begins once more. */
  | { to: "block-again"; part: number }
  /** A page that only rules show. */
  | { to: "aside"; part: number; page: Id; then: Destination };
/** A phase is over: what is recorded of it (its number is given to it), and where the session goes. */
export type Leaving = {
  state: SessionState;
  entry: Unnumbered;
  at: number;
  destination: Destination;
  /** What was asked of the driver before. */
  before?: readonly Command[];
};
/** A record without its number. */
export type Unnumbered = SessionRecord extends infer R ? (R extends SessionRecord ? Omit<R, "number"> : never) : never;

export const stay = (state: SessionState): Step => ({ state, commands: [] });

export const plannedBlock = ({ plan }: Pick<Course, "plan">, { part }: { part: number }) =>
  plan.parts[part] as Extract<Plan["parts"][number], { kind: "block" }>;
/** The block a trial or break belongs to. */
export const blockIn = (course: Course, phase: InTrial | InBreak): Block =>
  blockOf(course.document, plannedBlock(course, phase).part);

/** What bindings see in a state. */
export function contextIn(course: Course, { phase, tally, made, now }: SessionState): Context {
  const { plan, document } = course;
  const whose = { study: document, group: plan.group, participant: plan.participant };
  const isPractice = (phase.kind === "trial" || phase.kind === "break") && blockIn(course, phase).practice;
  const part = phase.kind === "done" ? plan.parts.length : phase.part + 1;
  const session = {
    isPractice,
    variables: made.variables,
    session: { now, part, points: made.points, sitting: plan.sitting },
    device: course.device ?? null,
  };
  if (phase.kind !== "trial") return contextFor(whose, session, tally);
  const { values, placed } = phase.planned;
  return contextFor(whose, { ...session, values, placed, changes: phase.changes }, tally);
}

/** Gives a record its number and puts it before what the step asks. */
export function recorded(step: Step, entry: Unnumbered): Step {
  const { kind, ...rest } = entry;
  const { nextRecord: number, fired, made } = step.state;
  const held = { ...made.variables, ...(made.points === 0 ? {} : { [pointsKey]: made.points }) };
  const ofRules = {
    ...(fired.length > 0 ? { fired: [...fired] } : {}),
    ...(Object.keys(held).length > 0 ? { variables: held } : {}),
  };
  return {
    state: { ...step.state, nextRecord: number + 1, fired: [] },
    commands: [{ kind: "record", record: { kind, number, ...rest, ...ofRules } as SessionRecord }, ...step.commands],
  };
}
