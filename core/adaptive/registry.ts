import { shapesOf, variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import { bayesian } from "./bayesian";
import type { AdaptiveKindOf } from "./kind";
import { staircase } from "./staircase";

const kinds = { staircase, bayesian };
type Kinds = typeof kinds;
export type AdaptiveMethod = keyof Kinds;
export const adaptiveMethods = Object.keys(kinds) as AdaptiveMethod[];

/** How a value follows the answers. */
export type Adaptive = Of<Kinds[AdaptiveMethod]["shape"]>;
export const adaptive = variant("method", shapesOf(kinds));

/** What is known of a method. */
export const adaptiveKind = (of: Adaptive): AdaptiveKindOf<Adaptive> =>
  kinds[of.method] as unknown as AdaptiveKindOf<Adaptive>;
