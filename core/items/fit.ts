import { oneOf } from "../shape/plain";
import type { Of } from "../shape/shape";

/** How a picture or video fills its box: whole, cropped, or distorted in one or both directions. */
export const fit = oneOf("inside", "cover", "stretch", "stretch-across", "stretch-upright");
export type Fit = Of<typeof fit>;
