import { object } from "../../shape/compound";
import { yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { anyText, percent } from "../../values/amounts";
import type { NewId } from "../../values/ref";
import { freshSized, sized } from "../base";
import { fit } from "../fit";
import type { ItemKindOf } from "../kind";

const shape = object({
  ...sized("image"),
  picture: anyText,
  fit,
  /** Pictures are drawn facing right; "left" mirrors them. */
  faces: anyText,
  upsideDown: yesNo,
  opacity: percent,
});
export interface ImageItem extends Of<typeof shape> {}

export const newImageItem = (newId: NewId, name: string, picture: string): ImageItem => ({
  ...freshSized("image", newId, name, 20, 20),
  picture,
  fit: "inside",
  faces: "right",
  upsideDown: false,
  opacity: 100,
});

export const image: ItemKindOf<ImageItem> = {
  shape,
  make: (newId, name, first) => newImageItem(newId, name, first("picture")),
  measures: ({ opacity }) => [{ what: "its opacity", value: opacity, least: 0 }],
  media: ({ picture }) => [{ kind: "picture", value: picture }],
};
