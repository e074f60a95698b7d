import type { Id, Scalar } from "../values/ref";
import type { Problem } from "./kind";
import { questionKind, type Question, type QuestionKind } from "./registry";

/** What a participant has done with one question so far. Times are milliseconds from the session's start. */
export type Entry = {
  question: Id;
  /** The answer; null while there is none. */
  value: unknown;
  /** “I would rather not say” was chosen. */
  ratherNot: boolean;
  /** When it was touched first and last; null while it was not. */
  first: number | null;
  last: number | null;
  /** How often an answer that was there was changed. */
  changes: number;
  /** What was typed and is no answer yet. */
  typed?: string;
};
export type Entries = Readonly<Record<Id, Entry>>;

export const untouched = (question: Id): Entry => ({
  question,
  value: null,
  ratherNot: false,
  first: null,
  last: null,
  changes: 0,
});

/** How a question ended. A question that was not shown may have an answer from when it was; it does not count. */
export const answerStates = ["answered", "skipped", "rather-not", "not-shown", "timed-out"] as const;
export type AnswerState = (typeof answerStates)[number];

/** Whether a value has the form of an answer to a kind of question. */
export const isValueOf = (kind: QuestionKind, value: unknown): boolean => questionKind(kind).value.fits(value);

/** Why a question keeps participants from going on: its answer cannot stay, or is needed; null where it does not. */
export function problemWith(question: Question, entry: Entry | undefined, isReminded: boolean): Problem | null {
  if (entry?.ratherNot && question.ratherNot) return null;
  const mayGo = question.need === "may" || (question.need === "reminder" && isReminded);
  if (entry && entry.value !== null) {
    const problem = questionKind(question.kind).problem(question, entry.value);
    return problem?.isPartial && mayGo ? null : problem;
  }
  const { whileTyping } = questionKind(question.kind);
  if (whileTyping && entry?.typed?.trim()) return whileTyping;
  if (mayGo) return null;
  if (question.need === "reminder") return { words: "remind" };
  if (question.kind === "agree") return { words: "agreePlease" };
  return { words: question.ratherNot ? "answerOrRatherNot" : "answerPlease" };
}

/** Whether an answer takes something back that another had given: an addition revises nothing. */
export function isRevised(before: unknown, after: unknown): boolean {
  if (before === null) return false;
  const [was, is] = [before, after] as {
    each?: Record<Id, unknown>;
    options?: Id[];
    option?: Id;
    other?: string;
  }[];
  if (was?.each && is?.each) return Object.entries(was.each).some(([id, value]) => is.each?.[id] !== value);
  if (was?.options && is?.options) return was.options.some((id) => is.options?.includes(id) !== true);
  // What is written beside “other” at last takes nothing back.
  if (was?.option !== undefined && was.option === is?.option && !was.other?.trim()) return false;
  return JSON.stringify(before) !== JSON.stringify(after);
}

/** How a question stands when its page is left. */
export function stateOf(question: Question, entry: Entry | undefined, isTimeUp: boolean): AnswerState {
  if (entry?.ratherNot && question.ratherNot) return "rather-not";
  if (entry && entry.value !== null) {
    const problem = isTimeUp ? questionKind(question.kind).problem(question, entry.value) : null;
    return problem && !problem.isPartial ? "timed-out" : "answered";
  }
  return isTimeUp ? "timed-out" : "skipped";
}

/** The answer as one value, for bindings and the data. */
export const scalarOf = (question: Question, value: unknown): Scalar | null =>
  value === null ? null : questionKind(question.kind).read(question, value);

/** The same line by line where a question asks for several: each line with its answer. */
export function linesOf(question: Question, value: unknown): string[] {
  const { isOfLines, parts } = questionKind(question.kind);
  if (value === null || !isOfLines) return [labelOf(question, value)];
  return (parts?.(question) ?? []).map(({ label, levels, read }) => {
    const given = read(value);
    return `${label}: ${levels?.find((level) => level.value === given)?.label ?? given ?? "–"}`;
  });
}

/** The answer as participants read it. */
export function labelOf(question: Question, value: unknown): string {
  if (value === null) return "";
  const kind = questionKind(question.kind);
  const label = kind.label?.(question, value);
  return label ?? String(kind.read(question, value) ?? "");
}
