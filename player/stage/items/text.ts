import type { TextItem } from "~/core/items/text/text";
import { familiesOf } from "~/core/values/fonts";
import type { Context } from "~/core/values/context";
import { drawFormattedText } from "../formatted-text";
import { numberOr, setPosition, textOr, units, type ItemDrawer } from "../item-drawer";

const directions = { auto: "auto", "left-to-right": "ltr", "right-to-left": "rtl" } as const;

const familyIn = ({ font }: TextItem, context: Context) => familiesOf(textOr(font, context, ""), context.study.media);

export const drawer: ItemDrawer<TextItem> = {
  create: (document) => {
    const element = document.createElement("div");
    element.className = "item text";
    return element;
  },
  update: (element, item, { context }) => {
    setPosition(element, item, context);
    element.style.width = units(numberOr(item.width, context, 80));
    element.style.fontFamily = familyIn(item, context);
    element.style.fontSize = units(numberOr(item.fontSize, context, 6));
    element.style.lineHeight = String(item.lineSpacing);
    element.style.color = textOr(item.color, context, "#000000");
    element.style.fontWeight = item.weight === "bold" ? "700" : "400";
    element.style.textAlign = item.align;
    drawFormattedText(element, item.text, context);
    for (const paragraph of element.children) (paragraph as HTMLElement).dir = directions[item.direction];
  },
  ready: (element, item, { context }) => {
    const { fonts } = element.ownerDocument;
    const family = familyIn(item, context).split(",")[0] ?? "";
    return family.startsWith('"')
      ? Promise.all([fonts.load(`400 16px ${family}`), fonts.load(`700 16px ${family}`)])
      : Promise.resolve();
  },
};
