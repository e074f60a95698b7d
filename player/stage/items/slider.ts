import type { SliderItem } from "~/core/items/slider/slider";
import { numberOr, setPosition, sized, textOr, units, type ItemDrawer } from "../item-drawer";

/** A slider whose mark, where none is wanted at first, appears with the first touch. */
export const drawer: ItemDrawer<SliderItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item slider";
    const range = document.createElement("input");
    range.type = "range";
    const ends = document.createElement("div");
    ends.className = "ends";
    ends.append(document.createElement("span"), document.createElement("span"));
    element.append(range, ends);
    const touched = () => range.classList.remove("untouched");
    range.addEventListener("input", touched);
    range.addEventListener("pointerdown", touched);
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    sized(element, item.size, context);
    const range = element.firstElementChild as HTMLInputElement;
    const isNew = range.dataset.range !== `${item.from} ${item.to} ${item.step} ${item.start}`;
    if (isNew) {
      range.dataset.range = `${item.from} ${item.to} ${item.step} ${item.start}`;
      Object.assign(range, { min: String(item.from), max: String(item.to), step: String(item.step) });
      range.value = String(item.start ?? (item.from + item.to) / 2);
      range.classList.toggle("untouched", item.start === null);
    }
    const [left, right] = [textOr(item.leftLabel, context, ""), textOr(item.rightLabel, context, "")];
    range.setAttribute("aria-label", `${item.name}, from ${left || item.from} to ${right || item.to}`);
    const [first, last] = element.querySelectorAll("span");
    if (first) first.textContent = left;
    if (last) last.textContent = right;
    element.style.fontSize = units(numberOr(item.fontSize, context, 4));
  },
};
