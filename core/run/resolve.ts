import type { BuiltInName } from "../design/names";
import {
  isBinding,
  type Bindable,
  type Condition,
  type Id,
  type Operand,
  type Ref,
  type Scalar,
  type StudyDocument,
} from "../design/types";
import type { PlacedElement } from "../compile/arrays";
import type { Outcome } from "./records";

/** What has happened so far, as far as bindings and conditions can see it. */
export type Tally = {
  trialsDone: number;
  /** Over the whole session, as `block` is over the present block. */
  session: { scored: number; right: number };
  block: { done: number; scored: number; right: number; rtSum: number; rtCount: number };
  last: { answer: string | null; right: boolean | null; rt: number | null; outcome: Outcome | null };
};
export const emptyBlockTally: Tally["block"] = { done: 0, scored: 0, right: 0, rtSum: 0, rtCount: 0 };
export const emptyTally: Tally = {
  trialsDone: 0,
  session: { scored: 0, right: 0 },
  block: emptyBlockTally,
  last: { answer: null, right: null, rt: null, outcome: null },
};

/** Everything a binding can be looked up in. `values` are the row's, by column id; none on a page. */
export type Context = {
  document: StudyDocument;
  group: Id;
  participant: number;
  values: Record<Id, Scalar | null>;
  tally: Tally;
  /** Where the elements of arrays were drawn in this trial, by item. */
  placed: Record<Id, PlacedElement[]>;
};

const builtIns: Record<BuiltInName, (context: Context) => Scalar | null> = {
  "participant.number": ({ participant }) => participant,
  "participant.group": ({ document, group }) => document.groups.find(({ id }) => id === group)?.name ?? null,
  "session.trials_done": ({ tally }) => tally.trialsDone,
  "session.accuracy": ({ tally }) => (tally.session.scored > 0 ? tally.session.right / tally.session.scored : null),
  "block.right_answers": ({ tally }) => tally.block.right,
  "block.trials_done": ({ tally }) => tally.block.done,
  "block.accuracy": ({ tally }) => (tally.block.scored > 0 ? tally.block.right / tally.block.scored : null),
  "block.mean_rt_ms": ({ tally }) => (tally.block.rtCount > 0 ? tally.block.rtSum / tally.block.rtCount : null),
  "last.answer": ({ tally }) => tally.last.answer,
  "last.right": ({ tally }) => tally.last.right,
  "last.rt_ms": ({ tally }) => tally.last.rt,
  "last.outcome": ({ tally }) => tally.last.outcome,
};

/** The present value of a reference; null where there is none (an empty cell, no answer yet, or a name that is gone). */
export function valueOf(ref: Ref, context: Context): Scalar | null {
  if ("column" in ref) return context.values[ref.column] ?? null;
  if ("groupValue" in ref)
    return context.document.groupValues.find(({ id }) => id === ref.groupValue)?.perGroup[context.group] ?? null;
  if ("variable" in ref) return context.document.variables.find(({ id }) => id === ref.variable)?.start ?? null;
  return Object.hasOwn(builtIns, ref.builtIn) ? builtIns[ref.builtIn as BuiltInName](context) : null;
}

/** A property's present value: the constant itself, or what it is bound to. */
export const resolve = (value: Bindable<Scalar>, context: Context): Scalar | null =>
  isBinding(value) ? valueOf(value.from, context) : value;

/** A number, also from a text such as `150` in a cell; null when it is none. */
export function resolveNumber(value: Bindable<Scalar>, context: Context): number | null {
  const found = resolve(value, context);
  if (found === null || found === "" || typeof found === "boolean") return null;
  const number = Number(found);
  return Number.isFinite(number) ? number : null;
}

/** A value as participants read it: reaction times in whole milliseconds, accuracy in per cent, yes or no, the letter of a key as it stands on it. */
export function valueAsText(ref: Ref, context: Context): string {
  const value = valueOf(ref, context);
  if (value === null) return "";
  if ("builtIn" in ref && typeof value === "number") {
    if (ref.builtIn.endsWith(".accuracy")) return `${Math.round(value * 100)} %`;
    if (ref.builtIn.endsWith("rt_ms")) return String(Math.round(value));
  }
  if (
    "groupValue" in ref &&
    typeof value === "string" &&
    value.length === 1 &&
    context.document.groupValues.find(({ id }) => id === ref.groupValue)?.type === "key"
  )
    return value.toUpperCase();
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

/** True when a reference's value can change while a trial runs, so that it must be read again before its scene shows. */
export const changesInTrial = (ref: Ref): boolean => "builtIn" in ref && !ref.builtIn.startsWith("participant.");

const operandValue = (operand: Operand, context: Context) => (operand === null ? null : resolve(operand, context));

/** Whether a condition holds now. A missing value equals only another missing value and is neither smaller nor larger. */
export function holds(condition: Condition, context: Context): boolean {
  if ("all" in condition) return condition.all.every((each) => holds(each, context));
  if ("any" in condition) return condition.any.some((each) => holds(each, context));
  if ("not" in condition) return !holds(condition.not, context);
  const [left, right] = [operandValue(condition.left, context), operandValue(condition.right, context)];
  if (condition.is === "=") return same(left, right);
  if (condition.is === "≠") return !same(left, right);
  const [a, b] = [
    left === null || left === "" ? NaN : Number(left),
    right === null || right === "" ? NaN : Number(right),
  ];
  switch (condition.is) {
    case "<":
      return a < b;
    case "≤":
      return a <= b;
    case ">":
      return a > b;
    case "≥":
      return a >= b;
  }
}

const same = (a: Scalar | null, b: Scalar | null) => (a === null || b === null ? a === b : String(a) === String(b));
