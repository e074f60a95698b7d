import type { Limit, LimitKind } from "../../design/types";
import { balancedTransitions } from "./balanced-transitions";
import { edgeTrials } from "./edge-trials";
import type { LimitKindOf } from "./limit";
import { longestRun } from "./longest-run";
import { mostInWindow } from "./most-in-window";
import { smallestGap } from "./smallest-gap";

const kinds: { [K in LimitKind]: LimitKindOf<Extract<Limit, { kind: K }>> } = {
  "longest-run": longestRun,
  "smallest-gap": smallestGap,
  "most-in-window": mostInWindow,
  "edge-trials": edgeTrials,
  "balanced-transitions": balancedTransitions,
};

/** What is known of the limit's kind. */
export const limitKind = (limit: Limit): LimitKindOf<Limit> => kinds[limit.kind] as unknown as LimitKindOf<Limit>;
