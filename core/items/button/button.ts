import { object } from "../../shape/compound";
import type { Of } from "../../shape/shape";
import { anyText, color, positive } from "../../values/amounts";
import { freshSized, sized } from "../base";
import { letterSize, noMedia, type ItemKindOf } from "../kind";

const shape = object({ ...sized("button"), label: anyText, fontSize: positive, fill: color, color });
export interface ButtonItem extends Of<typeof shape> {}

export const button: ItemKindOf<ButtonItem> = {
  shape,
  make: (newId, name) => ({
    ...freshSized("button", newId, name, 24, 9),
    label: name,
    fontSize: 4,
    fill: "#0e5a4e",
    color: "#ffffff",
  }),
  measures: letterSize,
  media: noMedia,
  isWorked: true,
};
