import { object } from "../shape/compound";
import { oneOf, text, title, whole } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { moment, outsideOf, spanProblem } from "./moment";
import type { WhyNot } from "./terms";

const planFields = object({
  name: title(80),
  notes: text({ most: 2000 }),
  from: optional(moment),
  until: optional(moment),
  /** So many finished sessions are wanted. */
  target: optional(whole(1, 1_000_000)),
  /**
   * Who still begins near the target: whoever comes, since it only tells how far one is; nobody once so many have finished;
   * nobody while those under way would make it full.
   */
  closes: oneOf("by-hand", "finished", "under-way"),
  /** Whether groups and orders are filled evenly within the wave, or over all waves of the study. */
  places: oneOf("wave", "study"),
});
/** What a wave of data collection is called, when it is, and how many are wanted in it. */
export interface WavePlan extends Of<typeof planFields> {}
export const wavePlan: Shape<WavePlan> = planFields;

/** Open, or not: for a while, or for good. */
export const waveStates = ["open", "paused", "closed"] as const;
export type WaveState = (typeof waveStates)[number];

export const newWavePlan = (name: string): WavePlan => ({ name, notes: "", closes: "finished", places: "study" });

/** What is wrong with a plan that has its form; null where nothing is. */
export const wavePlanProblem = (plan: WavePlan): string | null =>
  plan.name.trim() === "" ? "A wave needs a name." : spanProblem(plan);

/** How a wave stands: sessions finished in it, those under way, and what time it is, in ms since 1970. */
export type WaveStanding = { state: WaveState; finished: number; underWay: number; now: number };

/** Whether how many are under way decides who begins: it has to be counted then. */
export const countsUnderWay = ({ closes, target }: WavePlan): boolean => closes === "under-way" && target !== undefined;

/** Why nobody can begin in a wave just now; null where one can. */
export function whyNotBeginIn(plan: WavePlan, { state, finished, underWay, now }: WaveStanding): WhyNot | null {
  if (state !== "open") return "closed";
  const { target, closes } = plan;
  const taken = closes === "under-way" ? finished + underWay : finished;
  return outsideOf(plan, now) ?? (target !== undefined && closes !== "by-hand" && taken >= target ? "full" : null);
}
