import { object } from "../../shape/compound";
import { number, oneOf, only, whole } from "../../shape/plain";
import { optional, refined, type Of } from "../../shape/shape";
import { curveFields, fitProblem } from "../curve";
import { rangeFields, rangeProblem } from "../range";

const fields = object({
  method: only("bayesian"),
  ...rangeFields,
  ...curveFields,
  /** Where the next value is: at the posterior's mode or mean, or where its expected entropy is least. */
  next: oneOf("mode", "mean", "entropy"),
  /** What is expected of the threshold before any answer; nothing in particular where it is left out. The deviation is on the scale. */
  expected: optional(object({ value: number(), sd: number({ above: 0 }) })),
  /** It is done after so many trials that count, or when the threshold's error is no larger, whichever comes first. */
  endTrials: optional(whole(1, 10_000)),
  endError: optional(number({ above: 0 })),
});
export interface Bayesian extends Of<typeof fields> {}

export const bayesianShape = refined<Bayesian>(fields, (spec) => {
  const { expected, least, most } = spec;
  const wrong = rangeProblem(spec) ?? fitProblem(spec);
  if (wrong) return wrong;
  if (expected && (expected.value < least || expected.value > most))
    return { field: "expected.value", message: "must lie between the least and the most" };
  return null;
});
