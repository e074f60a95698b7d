import { deviceKind, isDeviceName } from "../devices/registry";
import type { Input } from "../devices/input";
import type { AnswerSpec } from "../design/answer";
import type { AnswerRecord } from "../records/record";
import type { Context } from "../values/context";
import { resolve } from "../values/resolve";
import type { Scalar } from "../values/ref";
import type { Outcome } from "../values/tally";

const plain = (text: string) => text.trim().toLowerCase();
/** A number as people type it, with a decimal point or comma; NaN for anything else. */
const numeric = (text: string) => (text.trim() === "" ? NaN : Number(text.trim().replace(",", ".")));

/** The right answer in a trial; null when none is right or wrong there (no right answer, or an empty cell). */
export function rightAnswer({ right }: AnswerSpec, context: Context): Scalar | null {
  const wanted = right === undefined ? null : resolve(right, context);
  return wanted === "" ? null : wanted;
}

/** Whether an answer is the right one; null when none is right or wrong in this trial. */
export function isRight(spec: AnswerSpec, value: string, input: Input, context: Context): boolean | null {
  const wanted = rightAnswer(spec, context);
  return wanted === null ? null : matches(spec, value, String(wanted), input.device);
}

/** Whether a value given by a device matches a wanted one by the answer's rule. Keys are compared without case whatever the rule. */
export function matches(
  spec: Pick<AnswerSpec, "match" | "tolerance">,
  value: string,
  wanted: string,
  device: string,
): boolean {
  switch (spec.match) {
    case "number":
      return Math.abs(numeric(value) - numeric(wanted)) <= (spec.tolerance ?? 0) + 1e-9;
    case "one-of":
      return wanted.split(";").some((each) => plain(each) === plain(value));
    case "ignore-case":
      return plain(value) === plain(wanted);
    case "exact":
      return (isDeviceName(device) ? deviceKind(device).areSame : undefined)?.(value, wanted) ?? value === wanted;
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

/** Whether a trial counts as right, and its reaction time in milliseconds. */
export type TrialScore = { right: boolean | null; rt: number | null };

/**
 * The score of a trial, for what participants are told and for results alike. It counts as right when all of its answers
 * that have a right one are right; an answer that is missing is not right. Where none has a right one, the trial is
 * neither right nor wrong. The reaction time is that of the first answer that has a right one, or of the first at all.
 */
export function trialScore(
  specs: readonly AnswerSpec[],
  answers: readonly Pick<AnswerRecord, "given" | "right">[],
  context: Context,
): TrialScore {
  const scored = specs.flatMap((spec, index) => {
    const answer = answers[index];
    return answer && (answer.right !== null || rightAnswer(spec, context) !== null) ? [answer] : [];
  });
  const [first] = scored.length > 0 ? scored : answers;
  return {
    right: scored.length > 0 ? scored.every(({ right }) => right === true) : null,
    rt: first?.given?.rt ?? null,
  };
}
