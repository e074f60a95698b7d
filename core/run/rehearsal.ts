import type { Act } from "../records/firing";
import type { Id } from "../values/ref";

/** How a rehearsal is played, where that is not as a participant plays. It stays with it, so that replay is the same. */
export type Rehearsal = {
  /** It begins with this part; in a block with this of its trials, counted from 1. */
  from?: { part: Id; trial: number };
  /** So many times as fast. */
  speed?: number;
  /** It waits before each trial. */
  stepwise?: boolean;
};

/** So many times as fast a rehearsal can be played. */
export const fast = 4;

/** A variable, or the points by a name of their own, that is set by hand while a rehearsal is played. */
export type ByHand = Extract<Act["happened"], { on: "by-hand" }>;

/** What is set by hand in one window is told on this channel to where the rehearsal is played. */
export const byHandChannel = (session: string): string => `lapwing-rehearsal:${session}`;
