import type { Context } from "./context";
import { medianOf } from "./median";
import type { Scalar } from "./ref";
import type { TrialResult } from "./tally";

/** A name that every study has. */
type BuiltIn = {
  type: "number" | "text" | "yes-no";
  /** What it is called where it is chosen and told. */
  says: string;
  means: string;
  read: (context: Context) => Scalar | null;
  /** Its value as participants read it, where that is not the value itself. */
  asText?: (value: number) => string;
  /** It is the same from the beginning of the session to its end. */
  fixed?: true;
  /** It is known only once the participant has their place. */
  ofPlace?: true;
};

const inPerCent = (share: number) => `${Math.round(share * 100)} %`;
const inWholeMs = (ms: number) => String(Math.round(ms));
const toOneDecimal = (value: number) => String(Math.round(value * 10) / 10);
const minutes = (ms: number) => Math.max(0, ms) / 60_000;
/** How many of the latest trials of the block turned out so, without another between. */
function inARow({ tally }: Context, right: boolean): number {
  const { results } = tally.block;
  let count = 0;
  for (let at = results.length - 1; at >= 0 && results[at]?.right === right; at--) count++;
  return count;
}
/** Many rules may ask for it in one step: it is worked out once for each list of trials. */
const medians = new WeakMap<readonly TrialResult[], number | null>();
function medianTime(results: readonly TrialResult[]): number | null {
  const known = medians.get(results);
  if (known !== undefined) return known;
  const times = results.flatMap(({ right, rt }) => (right === true && rt !== null ? [rt] : []));
  const median = times.length === 0 ? null : medianOf(times);
  medians.set(results, median);
  return median;
}
const share = (part: number, all: number) => (all > 0 ? part / all : null);

/** The names a binding can use in any study: what they mean, and how their present value is found. */
export const builtIns = {
  "participant.number": {
    type: "number",
    says: "number of the participant",
    means: "number of this participant in the study",
    // Before places are given there is none.
    read: ({ participant }) => participant || null,
    fixed: true,
    ofPlace: true,
  },
  "participant.group": {
    type: "text",
    says: "group of the participant",
    means: "name of this participant's group",
    read: ({ study, group }) => study.groups.find(({ id }) => id === group)?.name ?? null,
    fixed: true,
    ofPlace: true,
  },
  "session.trials_done": {
    type: "number",
    says: "trials so far in the session",
    means: "trials so far in the session; the present one counts once it is answered",
    read: ({ tally }) => tally.trialsDone,
  },
  "session.accuracy": {
    type: "number",
    says: "share right in the session",
    means: "share of right answers so far in the session, the present trial's included, 0 to 1",
    read: ({ tally }) => share(tally.session.right, tally.session.scored),
    asText: inPerCent,
  },
  "session.minutes": {
    type: "number",
    says: "minutes since the session began",
    means: "minutes since the session began",
    read: ({ session }) => minutes(session.now),
    asText: toOneDecimal,
  },
  "session.part_number": {
    type: "number",
    says: "number of the present part",
    means: "number of the present part among those the participant has, from 1",
    read: ({ session }) => session.part,
  },
  "session.sitting": {
    type: "number",
    says: "number of the sitting",
    means: "number of this sitting among those the participant comes for, from 1",
    read: ({ session }) => session.sitting,
  },
  "session.points": {
    type: "number",
    says: "points so far",
    means: "points that rules have given so far; 0 where none did",
    read: ({ session }) => session.points,
  },
  "block.practice": {
    type: "yes-no",
    says: "whether the block is practice",
    means: "yes in a practice block, no in any other",
    read: ({ isPractice }) => isPractice,
  },
  "block.right_answers": {
    type: "number",
    says: "right answers in this block",
    means: "right answers so far in this block, the present trial's included",
    read: ({ tally }) => tally.block.right,
  },
  "block.trials_done": {
    type: "number",
    says: "trials so far in this block",
    means: "trials so far in this block; the present one counts once it is answered",
    read: ({ tally }) => tally.block.done,
  },
  "block.accuracy": {
    type: "number",
    says: "share right in this block",
    means: "share of right answers so far in this block, the present trial's included, 0 to 1",
    read: ({ tally }) => share(tally.block.right, tally.block.scored),
    asText: inPerCent,
  },
  "block.mean_rt_ms": {
    type: "number",
    says: "mean reaction time in this block",
    means: "mean reaction time of right answers so far in this block, the present trial's included",
    read: ({ tally }) => share(tally.block.rtSum, tally.block.rtCount),
    asText: inWholeMs,
  },
  "block.median_rt_ms": {
    type: "number",
    says: "median reaction time in this block",
    means: "median reaction time of right answers so far in this block, the present trial's included",
    read: ({ tally }) => medianTime(tally.block.results),
    asText: inWholeMs,
  },
  "block.right_in_a_row": {
    type: "number",
    says: "right answers in a row",
    means: "right answers in a row up to now, in this block",
    read: (context) => inARow(context, true),
  },
  "block.wrong_in_a_row": {
    type: "number",
    says: "wrong answers in a row",
    means: "wrong or missing answers in a row up to now, in this block",
    read: (context) => inARow(context, false),
  },
  "block.attempt": {
    type: "number",
    says: "which attempt at this block it is",
    means: "which attempt at this block it is, from 1; more than 1 only where it is repeated",
    read: ({ tally }) => tally.block.attempt,
  },
  "block.minutes": {
    type: "number",
    says: "minutes since the block began",
    means: "minutes since the block began, all its attempts included",
    read: ({ tally, session }) => minutes(session.now - tally.block.began),
    asText: toOneDecimal,
  },
  "device.touch": {
    type: "yes-no",
    says: "whether the device is worked by touch",
    means: "yes where the session began on a device that is worked with a finger",
    read: ({ device }) => device?.touch ?? null,
    fixed: true,
  },
  "device.width": {
    type: "number",
    says: "width of the window",
    means: "width of the window as the session began, in CSS pixels",
    read: ({ device }) => device?.width ?? null,
    fixed: true,
  },
  "device.height": {
    type: "number",
    says: "height of the window",
    means: "height of the window as the session began, in CSS pixels",
    read: ({ device }) => device?.height ?? null,
    fixed: true,
  },
  "device.refresh_hz": {
    type: "number",
    says: "refresh rate of the display",
    means: "how many frames a second the display showed before the session began",
    read: ({ device }) => device?.refreshHz ?? null,
    fixed: true,
  },
  "device.language": {
    type: "text",
    says: "language of the browser",
    means: "language the browser is set to, such as en or pt-BR",
    read: ({ device }) => device?.language || null,
    fixed: true,
  },
  "last.answer": {
    type: "text",
    says: "answer of this trial",
    means: "the latest answer",
    read: ({ tally }) => tally.last.answer,
  },
  "last.right": {
    type: "yes-no",
    says: "whether the answer was right",
    means: "whether the latest answer was right; no value when there was none",
    read: ({ tally }) => tally.last.right,
  },
  "last.rt_ms": {
    type: "number",
    says: "reaction time of this trial",
    means: "reaction time of the latest answer",
    read: ({ tally }) => tally.last.rt,
    asText: inWholeMs,
  },
  "last.outcome": {
    type: "text",
    says: "outcome of this trial",
    means: "right, wrong, none, too early, too late or answered, for the latest answer",
    read: ({ tally }) => tally.last.outcome,
  },
} as const satisfies Record<string, BuiltIn>;

export type BuiltInName = keyof typeof builtIns;
export const builtInNames = Object.keys(builtIns) as BuiltInName[];
export const isBuiltInName = (name: string): name is BuiltInName => Object.hasOwn(builtIns, name);
export const builtInOf = (name: BuiltInName): BuiltIn => builtIns[name];
/** The part before the dot: participant, session, block, device, last. */
export const builtInFamilies = [...new Set(builtInNames.map((name) => name.slice(0, name.indexOf("."))))];
