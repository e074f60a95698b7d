import type { Id, Scalar } from "./ref";

/** The ways an answer can turn out, in one word. `answered` stands for an answer that has no right or wrong. */
export const outcomes = ["right", "wrong", "answered", "none", "too early", "too late"] as const;
export type Outcome = (typeof outcomes)[number];

/** The present value of an answer or score, and how participants read it. */
export type Told = { value: Scalar | null; text: string };

/**
 * How one trial of the block turned out: whether it was right, where it can be, its time in ms, the row it had, and which of
 * the attempt's trials it is, by index. `settled`: the values that followed the answers, where it counts for them.
 */
export type TrialResult = {
  right: boolean | null;
  rt: number | null;
  row: Id;
  index: number;
  settled?: Readonly<Record<Id, number>>;
};

/** What has happened so far, as far as bindings and conditions can see it. */
export type Tally = {
  trialsDone: number;
  /** Over the whole session, as `block` is over the present block. */
  session: { scored: number; right: number };
  block: {
    done: number;
    scored: number;
    right: number;
    rtSum: number;
    rtCount: number;
    /** Each of its trials in this attempt, in their order; shared between states, hence never written to. */
    results: readonly TrialResult[];
    /** Which run of the block it is, from 1. */
    attempt: number;
    /** When its first attempt began, in session time. */
    began: number;
  };
  last: { answer: string | null; right: boolean | null; rt: number | null; outcome: Outcome | null };
  /** Answers to questions, and scores, by the key of their reference. */
  answers: Readonly<Record<string, Told>>;
};
export const emptyBlockTally: Tally["block"] = {
  done: 0,
  scored: 0,
  right: 0,
  rtSum: 0,
  rtCount: 0,
  results: [],
  attempt: 1,
  began: 0,
};
export const emptyTally: Tally = {
  trialsDone: 0,
  session: { scored: 0, right: 0 },
  block: emptyBlockTally,
  last: { answer: null, right: null, rt: null, outcome: null },
  answers: {},
};
