import { object } from "../../shape/compound";
import { number, oneOf } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { color, positive } from "../../values/amounts";
import { formattedText, plainText } from "../../values/formatted-text";
import type { NewId } from "../../values/ref";
import { freshPositioned, positioned } from "../base";
import { letterSize, noMedia, someMeasure, type ItemKindOf } from "../kind";

const font = oneOf("Atkinson Hyperlegible Next", "Newsreader", "JetBrains Mono", "sans-serif", "serif", "monospace");
export type Font = Of<typeof font>;

const shape = object({
  ...positioned("text"),
  text: formattedText,
  font,
  /** Height of the letters' em box, in stage units. */
  fontSize: positive,
  color,
  weight: oneOf("regular", "bold"),
  align: oneOf("left", "center", "right"),
  /** Distance of lines as a multiple of the letter size. */
  lineSpacing: number({ least: 0.5, most: 5 }),
  direction: oneOf("auto", "left-to-right", "right-to-left"),
  /** Lines wrap at this width, in stage units. */
  width: positive,
});
export interface TextItem extends Of<typeof shape> {}

export const newTextItem = (newId: NewId, name: string, said: string): TextItem => ({
  ...freshPositioned("text", newId, name),
  text: plainText(said),
  font: "Atkinson Hyperlegible Next",
  fontSize: 6,
  color: "#17211e",
  weight: "regular",
  align: "center",
  lineSpacing: 1.3,
  direction: "auto",
  width: 80,
});

export const text: ItemKindOf<TextItem> = {
  shape,
  make: (newId, name) => newTextItem(newId, name, "Text"),
  measures: (item) => [...letterSize(item), { what: "its width", value: item.width, least: someMeasure }],
  media: noMedia,
  fonts: (item) => [item.font],
};
