import type { Fit } from "~/core/items/fit";

/** How a picture or video fills its box, as it is offered. */
export const fits: readonly (readonly [Fit, string])[] = [
  ["inside", "whole, inside its box"],
  ["cover", "fills its box, cropped"],
  ["stretch", "stretched to its box"],
  ["stretch-across", "stretched across only"],
  ["stretch-upright", "stretched upright only"],
];
