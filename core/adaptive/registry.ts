import { bayesian } from "./bayesian/bayesian";
import type { AdaptiveKindOf } from "./kind";
import type { Adaptive, AdaptiveMethod } from "./specs";
import { staircase } from "./staircase/staircase";

const kinds: Record<AdaptiveMethod, unknown> = { staircase, bayesian };

/** What is known of a method. */
export const adaptiveKind = (of: Adaptive): AdaptiveKindOf<Adaptive> => kinds[of.method] as AdaptiveKindOf<Adaptive>;
