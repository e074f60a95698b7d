import type { AnswerSpec } from "../design/types";
import { sameKey } from "./devices/device";
import type { AnswerRecord, Input, Outcome } from "./records";
import { resolve, type Context } from "./resolve";

const plain = (text: string) => text.trim().toLowerCase();
/** A number as people type it, with a decimal point or comma; NaN for anything else. */
const numeric = (text: string) => (text.trim() === "" ? NaN : Number(text.trim().replace(",", ".")));

/**
 * Whether an answer is the right one; null when none is right or wrong here (no right answer, or an empty cell).
 * Keys are compared without case whatever the match.
 */
export function isRight(spec: AnswerSpec, value: string, input: Input, context: Context): boolean | null {
  if (spec.right === undefined) return null;
  const wanted = resolve(spec.right, context);
  if (wanted === null || wanted === "") return null;
  return matches(spec, value, String(wanted), input.device === "keys");
}

/** Whether a value matches a wanted one by the answer's rule. */
export function matches(spec: AnswerSpec, value: string, wanted: string, byKey: boolean): boolean {
  switch (spec.match) {
    case "number":
      return Math.abs(numeric(value) - numeric(wanted)) <= (spec.tolerance ?? 0) + 1e-9;
    case "one-of":
      return wanted.split(";").some((each) => plain(each) === plain(value));
    case "ignore-case":
      return plain(value) === plain(wanted);
    case "exact":
      return byKey ? sameKey(value, wanted) : value === wanted;
  }
}

/** An answer's fate in one word. `isCutShort`: an early answer ended the window. */
export function outcomeOf(
  { given, right, early, tooLate }: Omit<AnswerRecord, "answer" | "outcome">,
  isCutShort: boolean,
): Outcome {
  if (given) return right === null ? "answered" : right ? "right" : "wrong";
  if (isCutShort) return "too early";
  if (tooLate) return "too late";
  return early.length > 0 ? "too early" : "none";
}
