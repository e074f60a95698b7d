import { shapesOf, variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import { balancedTransitions } from "./balanced-transitions";
import { edgeTrials } from "./edge-trials";
import type { LimitKindOf } from "./kind";
import { longestRun } from "./longest-run";
import { mostInWindow } from "./most-in-window";
import { smallestGap } from "./smallest-gap";

const kinds = {
  "longest-run": longestRun,
  "smallest-gap": smallestGap,
  "most-in-window": mostInWindow,
  "edge-trials": edgeTrials,
  "balanced-transitions": balancedTransitions,
};
type Kinds = typeof kinds;
export type LimitKind = keyof Kinds;
export const limitKinds = Object.keys(kinds) as LimitKind[];

/**
 * A constraint on the order of trials, over the whole block: across passes and across the seams of sub-blocks. Values of
 * several columns count together, as one combination; no column at all means the row itself.
 */
export type Limit = Of<Kinds[LimitKind]["shape"]>;
export const limit = variant("kind", shapesOf(kinds));

/** What is known of the limit's kind. */
export const limitKind = (of: Limit): LimitKindOf<Limit> => kinds[of.kind] as unknown as LimitKindOf<Limit>;
