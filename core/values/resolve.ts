import { builtInOf, isBuiltInName } from "./built-ins";
import type { Condition, Operand } from "./condition";
import type { Context } from "./context";
import { isBinding, type Bindable, type Ref, type Scalar } from "./ref";
import { groupValueOf } from "./table";
import { refKey } from "./uses";

/** The present value of a reference; null where there is none (an empty cell, no answer yet, or a name that is gone). */
export function valueOf(ref: Ref, context: Context): Scalar | null {
  if ("column" in ref) return context.values[ref.column] ?? null;
  if ("groupValue" in ref) return groupValueOf(context.study, { from: ref }, context.group);
  if ("variable" in ref) return context.study.variables.find(({ id }) => id === ref.variable)?.start ?? null;
  if ("builtIn" in ref) return isBuiltInName(ref.builtIn) ? builtInOf(ref.builtIn).read(context) : null;
  return context.tally.answers[refKey(ref)]?.value ?? null;
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
  if ("question" in ref || "score" in ref) return context.tally.answers[refKey(ref)]?.text ?? "";
  const value = valueOf(ref, context);
  if (value === null) return "";
  if ("builtIn" in ref && typeof value === "number" && isBuiltInName(ref.builtIn))
    return builtInOf(ref.builtIn).asText?.(value) ?? String(value);
  if (
    "groupValue" in ref &&
    typeof value === "string" &&
    value.length === 1 &&
    context.study.groupValues.find(({ id }) => id === ref.groupValue)?.type === "key"
  )
    return value.toUpperCase();
  return typeof value === "boolean" ? (value ? "yes" : "no") : String(value);
}

/** True when a reference's value can change while a trial runs, so that it must be read again before its scene shows. */
export const changesInTrial = (ref: Ref): boolean =>
  "builtIn" in ref && !(isBuiltInName(ref.builtIn) && builtInOf(ref.builtIn).fixed);

const operandValue = (operand: Operand, context: Context) => (operand === null ? null : resolve(operand, context));

/** Whether a condition holds now. A missing value equals only another missing value and is neither smaller nor larger. */
export function holds(condition: Condition, context: Context): boolean {
  if ("all" in condition) return condition.all.every((each) => holds(each, context));
  if ("any" in condition) return condition.any.some((each) => holds(each, context));
  if ("not" in condition) return !holds(condition.not, context);
  return comparisons[condition.is](operandValue(condition.left, context), operandValue(condition.right, context));
}

type Comparing = (left: Scalar | null, right: Scalar | null) => boolean;
const areEqual: Comparing = (a, b) => (a === null || b === null ? a === b : String(a) === String(b));
const inSize = (value: Scalar | null) => (value === null || value === "" ? NaN : Number(value));
const comparisons: Record<Extract<Condition, { is: unknown }>["is"], Comparing> = {
  "=": areEqual,
  "≠": (a, b) => !areEqual(a, b),
  "<": (a, b) => inSize(a) < inSize(b),
  "≤": (a, b) => inSize(a) <= inSize(b),
  ">": (a, b) => inSize(a) > inSize(b),
  "≥": (a, b) => inSize(a) >= inSize(b),
};
