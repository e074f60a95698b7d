import { builtInOf, isBuiltInName } from "../values/built-ins";
import { resolve } from "../values/resolve";
import type { Context } from "../values/context";
import { isBinding, type Bindable, type Ref, type Scalar } from "../values/ref";
import { wayToAnswer, waysInWords } from "../devices/device";
import { itemsIn } from "../design/lookup";
import { questionById } from "../design/questions";
import { questionKind } from "../questions/registry";
import type { AnswerSpec } from "../design/answer";
import type { Block } from "../design/block";
import { calculationKind, isCalculation, type Operand } from "../values/calculation";
import type { Comparison, Condition } from "../values/condition";
import type { Lasts } from "../design/scene";
import type { StudyDocument } from "../design/document";

/** The name a reference has at present; null when what it names is gone. */
export function refName(ref: Ref, document: StudyDocument, block: Block | null): string | null {
  if ("column" in ref) return block?.table.columns.find(({ id }) => id === ref.column)?.name ?? null;
  if ("groupValue" in ref) return document.groupValues.find(({ id }) => id === ref.groupValue)?.name ?? null;
  if ("variable" in ref) return document.variables.find(({ id }) => id === ref.variable)?.name ?? null;
  if ("score" in ref) return document.scores.find(({ id }) => id === ref.score)?.name ?? null;
  if ("question" in ref) return answerName(ref, document);
  return isBuiltInName(ref.builtIn) ? ref.builtIn : null;
}

/** What an answer is called: its question's name, with that of the statement or option where it is of one. */
function answerName(
  { question: id, part }: { question: string; part?: string },
  document: StudyDocument,
): string | null {
  const question = questionById(document)(id);
  if (!question || part === undefined) return question?.name ?? null;
  const { parts, beside } = questionKind(question.kind);
  const found = [...(parts?.(question) ?? []), ...(beside?.(question) ?? [])].find((each) => each.id === part);
  return found ? `${question.name}_${found.name}` : null;
}

/** The same as people read it: built-in names in words. */
export const refInWords = (ref: Ref, document: StudyDocument, block: Block | null): string | null =>
  "builtIn" in ref && isBuiltInName(ref.builtIn) ? builtInOf(ref.builtIn).says : refName(ref, document, block);

const number = (value: number) => value.toLocaleString("en").replace("-", "−");
const inWords = (value: Bindable<Scalar>, document: StudyDocument, block: Block | null) =>
  isBinding(value)
    ? (refInWords(value.from, document, block) ?? "something that is gone")
    : typeof value === "number"
      ? number(value)
      : String(value);

/** How long a scene lasts, as it stands beside it in the figure. */
export function durationInWords(lasts: Lasts, document: StudyDocument, block: Block): string {
  switch (lasts.kind) {
    case "ms":
      return `${inWords(lasts.ms, document, block)} ms`;
    case "random-ms":
      return `${number(lasts.from)}–${number(lasts.to)} ms, drawn`;
    case "media-end":
      return "until its media end";
    case "until-answer":
      return lasts.atMostMs === undefined
        ? "until answer"
        : `until answer, at most ${inWords(lasts.atMostMs, document, block)} ms`;
  }
}

/** A scene's duration in few signs, for where there is little room: `400–800`, `≤ 1350`. */
export function shortDuration(lasts: Lasts, context: Context): string {
  switch (lasts.kind) {
    case "ms":
      return String(resolve(lasts.ms, context) ?? "?");
    case "random-ms":
      return `${lasts.from}–${lasts.to}`;
    case "until-answer":
      return lasts.atMostMs === undefined ? "answer" : `≤ ${resolve(lasts.atMostMs, context) ?? "?"}`;
    case "media-end":
      return "media";
  }
}

/** By what an answer is given in the shown trial, for example `F or J`, `far or near button`, `typed text`. */
export function answerInWords(answer: AnswerSpec, block: Block, context: Context): string {
  const each = waysInWords(answer, itemsIn(block), context);
  if (each.length === 0) return wayToAnswer(answer).nothing;
  return each.length > 4 ? `${each.slice(0, 3).join(", ")} or ${each.length - 3} more` : each.join(" or ");
}

/** What is said of the answer of a trial, by its outcome. */
export const outcomesInWords = {
  right: "the answer was right",
  wrong: "the answer was wrong",
  none: "there was no answer",
  "too late": "the answer came too late",
  "too early": "the answer came too early",
  answered: "there was an answer",
} as const;
/** The same denied, where that is said without ambiguity. */
const notInWords: Record<string, string> = {
  right: "the answer was not right",
  wrong: "the answer was not wrong",
  "too late": "the answer did not come too late",
  "too early": "the answer did not come too early",
};

const comparisons: Record<Comparison, string> = {
  "=": "is",
  "≠": "is not",
  "<": "is less than",
  "≤": "is at most",
  ">": "is more than",
  "≥": "is at least",
};

const inARow = (of: string) => (is: Comparison, count: string) => {
  const how: Record<Comparison, string> = {
    "=": "",
    "≠": "not just ",
    "<": "fewer than ",
    "≤": "at most ",
    ">": "more than ",
    "≥": "at least ",
  };
  return `there have been ${how[is]}${count} ${of} in a row`;
};
const timed: Record<Comparison, string> = {
  "=": "exactly",
  "≠": "not exactly",
  "<": "under",
  "≤": "at most",
  ">": "above",
  "≥": "at least",
};
const measures: Record<string, (is: Comparison, value: string) => string> = {
  "block.wrong_in_a_row": inARow("wrong answers"),
  "block.right_in_a_row": inARow("right answers"),
  "last.rt_ms": (is, value) => `its time is ${timed[is]} ${value} ms`,
};

/** Conditions that are told better than as a comparison; null for all others. */
function saidAtOnce({ left, is, right }: Extract<Condition, { is: unknown }>): string | null {
  // A scene that only a rule goes to.
  if (left === false && is === "=" && right === true) return "a rule goes to it";
  if (!isBinding(left) || !("builtIn" in left.from) || typeof right === "object") return null;
  const measured = typeof right === "number" ? measures[left.from.builtIn] : undefined;
  if (measured) return measured(is, number(Number(right)));
  const isSo = is === "=" ? true : is === "≠" ? false : null;
  if (isSo === null) return null;
  const { builtIn } = left.from;
  const said: Record<string, string> = isSo ? outcomesInWords : notInWords;
  if (builtIn === "last.outcome") return Object.hasOwn(said, String(right)) ? (said[String(right)] ?? null) : null;
  if (typeof right !== "boolean") return null;
  if (builtIn === "last.right") return `the answer was ${right === isSo ? "right" : "not right"}`;
  if (builtIn === "block.practice") return right === isSo ? "in practice" : "not in practice";
  return null;
}

/** A value, or what is worked out of values, in words. */
export function operandInWords(value: Operand, document: StudyDocument, block: Block | null): string {
  if (value === null) return "empty";
  if (!isCalculation(value)) return inWords(value, document, block);
  const { says, sign } = calculationKind(value.calculate);
  const each = value.of.map((part) => {
    const words = operandInWords(part, document, block);
    return isCalculation(part) ? `(${words})` : words;
  });
  return sign !== undefined && each.length === 2 ? each.join(` ${sign} `) : `${says} ${each.join(", ")}`;
}

export function conditionInWords(condition: Condition, document: StudyDocument, block: Block | null): string {
  if ("all" in condition) return condition.all.map((each) => conditionInWords(each, document, block)).join(" and ");
  if ("any" in condition) return condition.any.map((each) => conditionInWords(each, document, block)).join(" or ");
  if ("not" in condition) return `not (${conditionInWords(condition.not, document, block)})`;
  const said = saidAtOnce(condition);
  if (said !== null) return said;
  const side = (value: Operand) => operandInWords(value, document, block);
  return `${side(condition.left)} ${comparisons[condition.is]} ${side(condition.right)}`;
}
