import { limit } from "../limits/registry";
import { list, object } from "../shape/compound";
import { oneOf, title, whole, yesNo } from "../shape/plain";
import { nullable, optional, type Of, type Shape } from "../shape/shape";
import { id } from "../values/ref";

/** Explicit sequences of a block's trials. `participant` is null for the one that is played by all. */
const givenSequence = object({ participant: nullable(whole(1)), rows: list(id, 0, 100_000) });
export type GivenSequence = Of<typeof givenSequence>;

const method = oneOf("as-listed", "shuffled", "with-replacement", "given");
const subBlocks = oneOf("listed", "shuffled", "latin-square");
export type SubBlockArrangement = Of<typeof subBlocks>;

const again = object({
  /** Each trial is asked until it was right so often, in all or in a row. */
  rightTimes: whole(1, 20),
  inARow: yesNo,
  /** How many other trials at least come before it is asked again: where it was right so far never, once, twice …; the last holds for more. None: at the end. */
  gaps: list(whole(0, 1000), 0, 10),
  /** It is shown no more often than this. */
  most: whole(2, 100),
});
/** Trials that come again until they were right often enough. */
export type Again = Of<typeof again>;

const trialOrderFields = object({
  method,
  passes: whole(1, 1000),
  /** Trials in a pass, where they are not as many as the rows' copies. */
  take: optional(whole(1, 20_000)),
  /** Columns whose combinations keep their shares in what is taken. */
  takeEach: optional(list(id, 0, 20)),
  /** Rows with the same value here stay together, as sub-blocks. */
  within: optional(id),
  subBlocks: optional(subBlocks),
  limits: list(limit, 0, 30),
  again: optional(again),
  given: optional(object({ file: title(200), sequences: list(givenSequence, 0, 10_000) })),
});
export interface TrialOrder extends Of<typeof trialOrderFields> {}
export const trialOrder: Shape<TrialOrder> = trialOrderFields;
