import type { ButtonItem } from "~/core/items/button/button";
import { numberOr, setPosition, sized, textOr, units, type ItemDrawer } from "../item-drawer";

/** A button: what it stands for is said by the answer it belongs to. */
export const drawer: ItemDrawer<ButtonItem> = {
  create: (document) => {
    const element = document.createElement("button");
    element.type = "button";
    element.className = "item button";
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    sized(element, item.size, context);
    element.textContent = textOr(item.label, context, "");
    element.style.fontSize = units(numberOr(item.fontSize, context, 4));
    element.style.background = textOr(item.fill, context, "#0e5a4e");
    element.style.color = textOr(item.color, context, "#ffffff");
  },
};
