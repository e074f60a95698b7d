import { backTo, judgedBlock, roundsAt, withResult } from "./good-enough";
import { isHeard, mayMove, react, takeAct } from "./reacting";
import type { Reactions } from "./state";

/** What rules and criteria do. */
export const reactions: Reactions = {
  react,
  takeAct,
  isHeard,
  mayMove,
  judgedBlock,
  withResult,
  roundsAt,
  backTo,
};
