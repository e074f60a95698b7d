import type { PlacedElement } from "../compile/arrays";
import type { AnswerDevice, Id, KeyDevice } from "../design/types";

/** All times here are milliseconds from the session's start. */
export type SceneRecord = { scene: Id; onset: number; end: number; planned: number | null };

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

/** What the driver saw an item do: come on or begin to play, go or end, or send a value. */
export type Observation = { item: Id; what: "began" | "ended" | "value"; at: number; value?: string | undefined };

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
};
export type PageRecord = { kind: "page"; number: number; part: Id; shown: number; done: number };
export type EndRecord = { kind: "end"; number: number; at: number };

/** One logged row. Numbers run from 1 without gaps within a session. */
export type SessionRecord = TrialRecord | PageRecord | EndRecord;
