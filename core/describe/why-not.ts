import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Comparison, Condition } from "../values/condition";
import type { Context } from "../values/context";
import type { Operand } from "../values/calculation";
import type { Value } from "../values/ref";
import { holds, operandValue } from "../values/resolve";
import { conditionInWords, operandInWords } from "./words";

/**
 * Why a condition does not hold in a context: the comparisons that fail, each with what stood on its left side. Empty where it
 * holds.
 */
export function whyNot(
  condition: Condition,
  context: Context,
  { document, block }: { document: StudyDocument; block: Block | null },
): string {
  return failing(condition, context)
    .map((each) => {
      if (!("left" in each) || !isLookedUp(each.left)) return `not so: ${conditionInWords(each, document, block)}`;
      const words = (operand: Operand) => operandInWords(operand, document, block);
      const was = `${words(each.left)} was ${presentOf(each.left, context)}`;
      const wanted = isLookedUp(each.right)
        ? `${words(each.right)} (${presentOf(each.right, context)})`
        : presentOf(each.right, context);
      return each.is === "≠" ? `${was}, which it is not to be` : `${was}, not ${how[each.is]}${wanted}`;
    })
    .join("; ");
}

const how: Record<Exclude<Comparison, "≠">, string> = {
  "=": "",
  "<": "less than ",
  "≤": "at most ",
  ">": "more than ",
  "≥": "at least ",
};
/** Whether an operand is more than a constant. */
const isLookedUp = (operand: Operand): boolean => typeof operand === "object" && operand !== null;

/** The smallest parts of a condition that keep it from holding. */
function failing(condition: Condition, context: Context): Condition[] {
  if (holds(condition, context)) return [];
  if ("all" in condition) return condition.all.flatMap((each) => failing(each, context)).slice(0, 1);
  if ("any" in condition) return condition.any.flatMap((each) => failing(each, context));
  return [condition];
}

function asWord(value: Value | null): string {
  if (value === null || value === "") return "empty";
  if (Array.isArray(value)) return value.length === 0 ? "an empty list" : value.map(String).join("; ");
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "number" ? String(Math.round(value * 1000) / 1000) : value;
}

/** What an operand comes to, as it stands in the list of values. */
export const presentOf = (operand: Operand, context: Context): string => asWord(operandValue(operand, context));
