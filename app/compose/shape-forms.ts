import type { ShapeForm } from "~/core/items/shape/shape";

/** The forms of shapes, as they are offered. */
export const shapeForms: readonly (readonly [ShapeForm, string])[] = [
  ["rectangle", "rectangle"],
  ["ellipse", "ellipse"],
  ["line", "line"],
  ["arrow", "arrow"],
  ["cross", "cross"],
  ["polygon", "polygon"],
  ["star", "star"],
  ["ring", "ring with a gap"],
];
