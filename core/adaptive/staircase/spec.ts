import { list, object } from "../../shape/compound";
import { number, oneOf, only, whole } from "../../shape/plain";
import { optional, refined, type Of } from "../../shape/shape";
import { curveFields, fitProblem } from "../curve";
import { rangeFields, rangeProblem } from "../range";

const fields = object({
  method: only("staircase"),
  ...rangeFields,
  ...curveFields,
  start: number(),
  /** So many right answers make it harder and one wrong one easier; or each answer moves it, by steps whose ratio gives the share right. */
  moves: oneOf("up-down", "weighted"),
  /** How many right answers in a row make it harder. */
  down: whole(1, 10),
  /** The share right that weighted steps lead to. */
  target: number({ least: 0.05, most: 0.95 }),
  /** With up–down: how large a step to the easier side is beside one to the harder. */
  easierBy: optional(number({ above: 0, most: 20 })),
  /** The step to the harder side at first and after each reversal, on the scale; the last one holds from then on. */
  steps: list(number({ above: 0, most: 1e9 }), 1, 12),
  /** It is done after so many reversals, or trials that count, whichever comes first. */
  endReversals: optional(whole(1, 200)),
  endTrials: optional(whole(1, 10_000)),
});
export interface Staircase extends Of<typeof fields> {}

export const staircaseShape = refined<Staircase>(fields, (spec) => {
  const { start, least, most } = spec;
  const wrong = rangeProblem(spec) ?? fitProblem(spec);
  if (wrong) return wrong;
  if (start < least || start > most) return { field: "start", message: "must lie between the least and the most" };
  return null;
});
