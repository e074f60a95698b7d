import { variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import { bayesianShape } from "./bayesian/spec";
import { staircaseShape } from "./staircase/spec";

const shapes = { staircase: staircaseShape, bayesian: bayesianShape };
export type AdaptiveMethod = keyof typeof shapes;

/** How a value follows the answers. What is worked out from it stands in `registry.ts`, which players load only where it is used. */
export const adaptive = variant("method", shapes);
export type Adaptive = Of<(typeof shapes)[AdaptiveMethod]>;
