import type { EntryItem } from "~/core/items/entry/entry";
import { numberOr, setPosition, sized, units, type ItemDrawer } from "../item-drawer";

export const drawer: ItemDrawer<EntryItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item entry";
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    sized(element, item.size, context);
    const tag = item.lines === "several" ? "textarea" : "input";
    let field = element.firstElementChild as HTMLInputElement | HTMLTextAreaElement | null;
    if (field?.localName !== tag) {
      field = element.ownerDocument.createElement(tag);
      element.replaceChildren(field);
    }
    field.maxLength = item.longest;
    field.placeholder = item.hint;
    field.setAttribute("aria-label", item.hint || item.name);
    field.setAttribute("autocomplete", "off");
    field.spellcheck = false;
    if (item.takes === "number") field.inputMode = "decimal";
    field.dataset.takes = item.takes;
    field.style.fontSize = units(numberOr(item.fontSize, context, 4));
  },
};
