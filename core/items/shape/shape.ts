import { object } from "../../shape/compound";
import { oneOf } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyNumber, color, notNegative, percent } from "../../values/amounts";
import type { NewId } from "../../values/ref";
import { freshSized, sized } from "../base";
import { noMedia, type ItemKindOf } from "../kind";

export const shapeForms = ["rectangle", "ellipse", "line", "arrow", "cross", "polygon", "star", "ring"] as const;
const form = oneOf(...shapeForms);
export type ShapeForm = Of<typeof form>;

const fields = object({
  ...sized("shape"),
  form,
  fill: color,
  line: color,
  /** Width of the outline or of the strokes, in stage units; for a ring, the width of the ring. */
  lineWidth: notNegative,
  /** Corners of a polygon, points of a star. */
  corners: anyNumber,
  /** Opening of a ring to the right, in degrees of its circle; 29° for an acuity ring, stroke and gap a fifth of its diameter (ISO 8596). */
  gap: anyNumber,
  opacity: percent,
});
export interface ShapeItem extends Of<typeof fields> {}

export const newShapeItem = (newId: NewId, name: string): ShapeItem => ({
  ...freshSized("shape", newId, name, 20, 20),
  form: "rectangle",
  fill: "#2e7d8c",
  line: "transparent",
  lineWidth: 0.5,
  corners: 5,
  gap: 29,
  opacity: 100,
});

export const shape: ItemKindOf<ShapeItem> = {
  shape: fields,
  make: newShapeItem,
  measures: ({ lineWidth, corners, gap, opacity }) => [
    { what: "its line width", value: lineWidth, least: 0 },
    { what: "its number of corners", value: corners, least: 2 },
    { what: "its gap", value: gap, least: 0 },
    { what: "its opacity", value: opacity, least: 0 },
  ],
  media: noMedia,
};
