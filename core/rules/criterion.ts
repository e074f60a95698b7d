import { object } from "../shape/compound";
import { number, oneOf, whole } from "../shape/plain";
import { optional, refined, type Of, type Shape } from "../shape/shape";
import { formattedText } from "../values/formatted-text";
import { id } from "../values/ref";

const fields = object({
  /** Looked at after every trial, or only when the block's trials have all been played. */
  looked: oneOf("every-trial", "pass-end"),
  /** The share of trials that are to be right, 0 to 1. */
  rightShare: optional(number({ least: 0, most: 1 })),
  /** The median time of right answers may be at most this. */
  medianMs: optional(number({ above: 0, most: 60_000 })),
  /** Which trials count: the last `trials`, or all of the attempt, at least `trials`. */
  over: oneOf("last", "all"),
  trials: whole(1, 1000),
  /** It is to hold for the trials of each level of this column by themselves. */
  each: optional(id),
  /** How often the block is played at most. */
  attempts: whole(1, 20),
  /** The page shown before another attempt. */
  before: optional(id),
  /** What follows where it was not reached. */
  otherwise: oneOf("go-on", "end"),
  /** What is said where the session ends then. */
  text: optional(formattedText),
});
/** Until when a block is repeated. */
export interface Criterion extends Of<typeof fields> {}
export const criterion: Shape<Criterion> = refined(fields, ({ rightShare, medianMs }) =>
  rightShare === undefined && medianMs === undefined
    ? { field: "rightShare", message: "is missing: say which share is to be right, or how fast answers are to be" }
    : null,
);

/** What 85 % right over at least 12 trials means, at most two more attempts. */
export const newCriterion: Criterion = {
  looked: "every-trial",
  rightShare: 0.85,
  over: "last",
  trials: 12,
  attempts: 3,
  otherwise: "go-on",
};

/** How many of so many trials have to be right: 85 % of 12 are 11. */
export const neededRight = (share: number, trials: number): number => Math.ceil(share * trials - 1e-9);
