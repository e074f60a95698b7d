import type { Id } from "../design/types";

/** All times here are milliseconds from the session's start. */
export type SceneRecord = { scene: Id; onset: number; end: number; planned: number | null };
/** `scenesShown` counts the trial's scenes that had come on when the machine took the answer. */
export type GivenAnswer = { value: string; at: number; rt: number; scenesShown: number };
/** `answered` stands for an answer that has no right or wrong. */
export type Outcome = "right" | "wrong" | "answered" | "none" | "too late";

export type TrialRecord = {
  kind: "trial";
  number: number;
  part: Id;
  trial: number;
  pass: number;
  row: Id;
  scenes: SceneRecord[];
  answer: GivenAnswer | null;
  /** An answer given after the window had closed; it does not count. */
  tooLate: GivenAnswer | null;
  right: boolean | null;
  outcome: Outcome;
  lateFrames: number;
};
export type PageRecord = { kind: "page"; number: number; part: Id; shown: number; done: number };
export type EndRecord = { kind: "end"; number: number; at: number };

/** One logged row. Numbers run from 1 without gaps within a session. */
export type SessionRecord = TrialRecord | PageRecord | EndRecord;
