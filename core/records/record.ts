import { deviceNames } from "../devices/registry";
import { inputFields, type Input } from "../devices/input";
import { longValue, observation, recordedId, sessionTime } from "../items/observation";
import { acts, ofRules } from "./firing";
import { pageAnswer } from "./page-answer";
import { list, object, record, variant } from "../shape/compound";
import { number, oneOf, only, whole, yesNo } from "../shape/plain";
import { nullable, optional, type Of, type Shape } from "../shape/shape";
import { scalar } from "../values/ref";
import { outcomes } from "../values/tally";

/*
 * One logged row. All times are milliseconds from the session's start. What participants send is checked against these
 * shapes, in every field and with no field more; a record that was stored stays as it is for ever.
 */

const most = 1e7;
const count = whole(0, most);
const ordinal = whole(1, most);

/**
 * How a scene ended: because its time was up, something was answered, its media were over, or a rule went on. `frames` is how many
 * refreshes of the display it was on, `planned` into how many its time was turned; null when only something else ends it or the display has no fixed refresh.
 */
const sceneEndFields = object({
  by: oneOf("time", "answer", "media", "rule"),
  frames: whole(-1e6, most),
  planned: nullable(count),
});
export interface SceneEnd extends Of<typeof sceneEndFields> {}
const sceneEnd: Shape<SceneEnd> = sceneEndFields;

const sceneRecordFields = object({
  scene: recordedId,
  onset: sessionTime,
  end: sessionTime,
  planned: nullable(number()),
  /** Absent in records from before frames were counted. */
  ended: optional(sceneEnd),
});
export interface SceneRecord extends Of<typeof sceneRecordFields> {}
const sceneRecord: Shape<SceneRecord> = sceneRecordFields;

const input: Shape<Input> = object({ device: oneOf(...deviceNames), ...inputFields });
const taken = {
  value: longValue,
  at: sessionTime,
  /** How many of the trial's scenes had come on when the machine took it. */
  scenesShown: count,
  /** Its number among the trial's answers of any kind, from 1. */
  order: count,
  input,
};
const earlyAnswerFields = object(taken);
export interface EarlyAnswer extends Of<typeof earlyAnswerFields> {}
const earlyAnswer: Shape<EarlyAnswer> = earlyAnswerFields;
const givenAnswerFields = object({ ...taken, rt: number() });
export interface GivenAnswer extends Of<typeof givenAnswerFields> {}
const givenAnswer: Shape<GivenAnswer> = givenAnswerFields;

const answerRecordFields = object({
  answer: recordedId,
  given: nullable(givenAnswer),
  right: nullable(yesNo),
  outcome: oneOf(...outcomes),
  /** Answers before the window opened; they do not count. */
  early: list(earlyAnswer, 0, 100),
  /** The first answer after the window had closed without one; it does not count. */
  tooLate: nullable(givenAnswer),
  /** Earlier answers within the window, where the last one counts. */
  revised: list(givenAnswer, 0, 10_000),
});
/** What became of one of a block's answers in one trial. */
export interface AnswerRecord extends Of<typeof answerRecordFields> {}
const answerRecord: Shape<AnswerRecord> = answerRecordFields;

const element = object({ x: number(), y: number(), isTarget: yesNo });

const played = {
  /** Records of a session are numbered from 1 without gaps. */
  number: ordinal,
  part: recordedId,
  trial: ordinal,
  pass: ordinal,
  row: recordedId,
  scenes: list(sceneRecord, 0, 200),
  /** One for each of the block's answers, in its order. */
  answers: list(answerRecord, 0, 20),
  observed: list(observation, 0, 1000),
  /** Where the elements of arrays were drawn, by item. */
  placed: record(list(element, 0, 500), 60),
  /** The values of columns that followed the answers, by column. */
  settled: optional(record(number(), 60)),
  /** What was drawn from pools for it, by column. */
  fromPools: optional(record(nullable(scalar), 60)),
  acts,
  /** Which run of the block it was in, and its number within that, from 1: in blocks that are played more than once. */
  attempt: optional(whole(1, most)),
  inAttempt: optional(ordinal),
  /** How often this trial had been shown by then, this one included, where it came again. */
  showing: optional(whole(2, most)),
  ...ofRules,
};

/** What comes between while a trial is played. */
export const interruptions = ["focus", "full-screen", "asked", "withdrawn"] as const;
const interruption = oneOf(...interruptions);
export type Interruption = Of<typeof interruption>;

const trialFields = object({
  kind: only("trial"),
  ...played,
  lateFrames: count,
  /** What came between while it was played, in a study that finishes such trials; absent where nothing did. */
  interrupted: optional(interruption),
  /** What came of the block's criterion after it, where something did. */
  criterion: optional(oneOf("reached", "again", "not-reached")),
});
export interface TrialRecord extends Of<typeof trialFields> {}
const trial: Shape<TrialRecord> = trialFields;

/** A trial that was broken off, with what had been shown and answered until then. It counts nowhere. */
const brokenOffFields = object({ kind: only("broken-off"), ...played, at: sessionTime, why: interruption });
export interface BrokenOffRecord extends Of<typeof brokenOffFields> {}
const brokenOff: Shape<BrokenOffRecord> = brokenOffFields;

/** A break within a block; `after` is the number of the trial it followed. */
const breakRecordFields = object({
  kind: only("break"),
  number: ordinal,
  part: recordedId,
  after: ordinal,
  shown: sessionTime,
  done: sessionTime,
  ...ofRules,
});
export interface BreakRecord extends Of<typeof breakRecordFields> {}
const breakRecord: Shape<BreakRecord> = breakRecordFields;

/** How a page was left, where the participant did not simply go on: its time was up, the participant went back or away, or a rule went on. */
const leftBy = oneOf("time", "back", "withdrawn", "rule");
export type LeftBy = Of<typeof leftBy>;

const pageRecordFields = object({
  kind: only("page"),
  number: ordinal,
  part: recordedId,
  shown: sessionTime,
  done: sessionTime,
  /** One for each question that the participant could be asked, in their order; absent on a page without any. */
  answers: optional(list(pageAnswer, 1, 1000)),
  /** When the participant was reminded that something is not answered, or told what is wrong; absent where that was not so. */
  reminded: optional(sessionTime),
  left: optional(leftBy),
  acts,
  ...ofRules,
});
export interface PageRecord extends Of<typeof pageRecordFields> {}
const pageRecord: Shape<PageRecord> = pageRecordFields;

const endFields = object({
  kind: only("end"),
  number: ordinal,
  at: sessionTime,
  /** The participant left for good before the study's end. */
  withdrawn: optional(only(true)),
  /** A page, rule or criterion ended the session: as what, in which part, and by which ending or rule. */
  ended: optional(object({ as: oneOf("screened-out", "declined", "finished"), part: recordedId, ending: recordedId })),
  ...ofRules,
});
export interface EndRecord extends Of<typeof endFields> {}
const end: Shape<EndRecord> = endFields;

const kinds = { trial, "broken-off": brokenOff, break: breakRecord, page: pageRecord, end };
export const recordShape = variant("kind", kinds);
export type SessionRecord = Of<typeof recordShape>;

/** Whether a value says that it is a record, whatever else is in it. */
export const saysItIsARecord = (value: unknown): boolean =>
  typeof value === "object" &&
  value !== null &&
  "kind" in value &&
  typeof value.kind === "string" &&
  Object.hasOwn(kinds, value.kind);
