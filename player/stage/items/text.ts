import type { Font, TextItem } from "~/core/items/text/text";
import { drawFormattedText } from "../formatted-text";
import { numberOr, setPosition, textOr, units, type ItemDrawer } from "../item-drawer";

/** Families as the style sheets that ship with the application call them; generic ones are the computer's own. */
const families: Record<Font, string> = {
  "Atkinson Hyperlegible Next": '"Atkinson Hyperlegible Next Variable", sans-serif',
  Newsreader: '"Newsreader Variable", serif',
  "JetBrains Mono": '"JetBrains Mono Variable", monospace',
  "sans-serif": "sans-serif",
  serif: "serif",
  monospace: "monospace",
};
const directions = { auto: "auto", "left-to-right": "ltr", "right-to-left": "rtl" } as const;

export const drawer: ItemDrawer<TextItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item text";
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    element.style.width = units(numberOr(item.width, context, 80));
    element.style.fontFamily = families[item.font];
    element.style.fontSize = units(numberOr(item.fontSize, context, 6));
    element.style.lineHeight = String(item.lineSpacing);
    element.style.color = textOr(item.color, context, "#000000");
    element.style.fontWeight = item.weight === "bold" ? "700" : "400";
    element.style.textAlign = item.align;
    drawFormattedText(element, item.text, context);
    for (const paragraph of element.children) (paragraph as HTMLElement).dir = directions[item.direction];
  },
  ready: (element, item) => {
    const { fonts } = element.ownerDocument;
    const family = families[item.font].split(",")[0] ?? "";
    return family.startsWith('"')
      ? Promise.all([fonts.load(`400 16px ${family}`), fonts.load(`700 16px ${family}`)])
      : Promise.resolve();
  },
};
