import type { TextItem } from "~/core/design/types";
import { drawFormattedText } from "../formatted-text";
import { numberOr, place, textOr, units, type ItemDrawer } from "./kind";

export const text: ItemDrawer<TextItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item text";
    return element;
  },
  update: (element, item, { context }) => {
    place(element, item, context);
    element.style.width = units(numberOr(item.width, context, 80));
    element.style.fontSize = units(numberOr(item.fontSize, context, 6));
    element.style.color = textOr(item.color, context, "#000000");
    element.style.fontWeight = item.weight === "bold" ? "700" : "400";
    element.style.textAlign = item.align;
    drawFormattedText(element, item.text, context);
  },
};
