import { builtInOf, isBuiltInName } from "./built-ins";
import { calculationKind, isCalculation, type Operand } from "./calculation";
import type { Condition } from "./condition";
import type { Context } from "./context";
import type { Stream } from "../random/stream";
import { isBinding, type Bindable, type Id, type Ref, type Scalar, type Value } from "./ref";
import { groupValueOf } from "./table";
import { refKey } from "./uses";

/** The present value of a reference; null where there is none (an empty cell, no answer yet, or a name that is gone). */
export function valueOf(ref: Ref, context: Context): Scalar | null {
  if ("column" in ref) return context.values[ref.column] ?? null;
  if ("groupValue" in ref) return groupValueOf(context.study, { from: ref }, context.group);
  if ("variable" in ref) {
    const value = variableIn(context, ref.variable);
    return Array.isArray(value) ? value.map(plainly).join("; ") : value;
  }
  if ("builtIn" in ref) return isBuiltInName(ref.builtIn) ? builtInOf(ref.builtIn).read(context) : null;
  return context.tally.answers[refKey(ref)]?.value ?? null;
}

/** What a variable holds; null where it is empty or gone. */
export function variableIn({ variables, study }: Pick<Context, "variables" | "study">, id: Id): Value | null {
  if (Object.hasOwn(variables, id)) return variables[id] ?? null;
  return study.variables.find((each) => each.id === id)?.start ?? null;
}

/** A value as participants read it. */
const plainly = (value: Scalar): string => (typeof value === "boolean" ? (value ? "yes" : "no") : String(value));

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
  return plainly(value);
}

/** True when a reference's value can change while a trial runs, so that it must be read again before its scene shows. */
export const changesInTrial = (ref: Ref): boolean =>
  "variable" in ref || ("builtIn" in ref && !(isBuiltInName(ref.builtIn) && builtInOf(ref.builtIn).fixed));

/** What a value, or a calculation with values, comes to: lists stay lists. `stream` is what calculations draw from. */
export function operandValue(operand: Operand, context: Context, stream: Stream | null = null): Value | null {
  if (operand === null) return null;
  if (isCalculation(operand))
    return calculationKind(operand.calculate).compute({
      values: operand.of.map((each) => operandValue(each, context, stream)),
      stream,
    });
  if (isBinding(operand) && "variable" in operand.from) return variableIn(context, operand.from.variable);
  return resolve(operand, context);
}

/** Whether a condition holds now. A missing value equals only another missing value and is neither smaller nor larger. */
export function holds(condition: Condition, context: Context): boolean {
  if ("all" in condition) return condition.all.every((each) => holds(each, context));
  if ("any" in condition) return condition.any.some((each) => holds(each, context));
  if ("not" in condition) return !holds(condition.not, context);
  return comparisons[condition.is](operandValue(condition.left, context), operandValue(condition.right, context));
}

type Comparing = (left: Value | null, right: Value | null) => boolean;
const areEqual: Comparing = (a, b) => (a === null || b === null ? a === b : String(a) === String(b));
const inSize = (value: Value | null) => (value === null || value === "" || Array.isArray(value) ? NaN : Number(value));
const comparisons: Record<Extract<Condition, { is: unknown }>["is"], Comparing> = {
  "=": areEqual,
  "≠": (a, b) => !areEqual(a, b),
  "<": (a, b) => inSize(a) < inSize(b),
  "≤": (a, b) => inSize(a) <= inSize(b),
  ">": (a, b) => inSize(a) > inSize(b),
  "≥": (a, b) => inSize(a) >= inSize(b),
};
