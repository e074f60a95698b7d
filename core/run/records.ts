import type { PlacedElement } from "../compile/arrays";
import type { AnswerDevice, Id, KeyDevice } from "../design/types";

/** All times here are milliseconds from the session's start. */
export type SceneRecord = {
  scene: Id;
  onset: number;
  end: number;
  planned: number | null;
  /** Absent in records from before frames were counted. */
  ended?: SceneEnd | undefined;
};
/**
 * How a scene ended: because its time was up, something was answered, or its media were over. `frames` is how many
 * refreshes of the display it was on, `planned` into how many its time was turned; null when only something else ends it or the display has no fixed refresh.
 */
export type SceneEnd = { by: "time" | "answer" | "media"; frames: number; planned: number | null };

/** Something a participant did that can be an answer, as the driver saw it. */
export type Input = {
  device: AnswerDevice["device"];
  /** The key by what it types, the text typed, where the slider stands, the name of what was pointed at. */
  value: string;
  /** The key by its place on the keyboard. */
  place?: string | undefined;
  act?: KeyDevice["act"] | undefined;
  /** For how long a key had been held, in milliseconds. */
  heldMs?: number | undefined;
  /** The item, or the name of the region, it was made on. */
  on?: string | undefined;
  by?: "mouse" | "pen" | "touch" | "keyboard" | undefined;
  /** Where it was pointed at, in stage units. */
  x?: number | undefined;
  y?: number | undefined;
};

/** `scenesShown` counts the trial's scenes that had come on when the machine took it; `order` its answers of any kind, from 1. */
type Taken = { value: string; at: number; scenesShown: number; order: number; input: Input };
export type EarlyAnswer = Taken;
export type GivenAnswer = Taken & { rt: number };

/** `answered` stands for an answer that has no right or wrong. */
export const outcomes = ["right", "wrong", "answered", "none", "too early", "too late"] as const;
export type Outcome = (typeof outcomes)[number];

/** What became of one of a block's answers in one trial. */
export type AnswerRecord = {
  answer: Id;
  given: GivenAnswer | null;
  right: boolean | null;
  outcome: Outcome;
  /** Answers before the window opened; they do not count. */
  early: EarlyAnswer[];
  /** The first answer after the window had closed without one; it does not count. */
  tooLate: GivenAnswer | null;
  /** Earlier answers within the window, where the last one counts. */
  revised: GivenAnswer[];
};

/**
 * What the driver saw an item do: come on or begin to play, go or end, or send a value. `offset` is by how many
 * milliseconds a sound or video was later (or, below 0, earlier) than the frame it belongs to; `lateFrames` how many frames
 * of a video or a moving item were dropped or late while it was on.
 */
export type Observation = {
  item: Id;
  what: "began" | "ended" | "value";
  at: number;
  value?: string | undefined;
  offset?: number | undefined;
  lateFrames?: number | undefined;
};

export type TrialRecord = {
  kind: "trial";
  number: number;
  part: Id;
  trial: number;
  pass: number;
  row: Id;
  scenes: SceneRecord[];
  /** One for each of the block's answers, in its order. */
  answers: AnswerRecord[];
  lateFrames: number;
  observed: Observation[];
  /** Where the elements of arrays were drawn, by item. */
  placed: Record<Id, PlacedElement[]>;
  /** What came between while it was played, in a study that finishes such trials; absent where nothing did. */
  interrupted?: Interruption | undefined;
};
/** Why a trial was broken off: it is played again, or the participant left for good. */
export const interruptions = ["focus", "full-screen", "asked", "withdrawn"] as const;
export type Interruption = (typeof interruptions)[number];
/** A trial that was broken off, with what had been shown and answered until then. It counts nowhere. */
export type BrokenOffRecord = Omit<TrialRecord, "kind" | "lateFrames" | "interrupted"> & {
  kind: "broken-off";
  at: number;
  why: Interruption;
};
/** A break within a block; `after` is the number of the trial it followed. */
export type BreakRecord = { kind: "break"; number: number; part: Id; after: number; shown: number; done: number };
export type PageRecord = { kind: "page"; number: number; part: Id; shown: number; done: number };
/** `withdrawn`: the participant left for good before the study's end. */
export type EndRecord = { kind: "end"; number: number; at: number; withdrawn?: true | undefined };

/** One logged row. Numbers run from 1 without gaps within a session. */
export type SessionRecord = TrialRecord | BrokenOffRecord | BreakRecord | PageRecord | EndRecord;
