import { object } from "../../shape/compound";
import { number, oneOf, text as words } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { color, positive } from "../../values/amounts";
import { formattedText, plainText } from "../../values/formatted-text";
import { fontCalled, shippedFonts } from "../../values/fonts";
import type { RowContext } from "../../values/context";
import { bindable, isBinding, type Bindable, type NewId } from "../../values/ref";
import { resolve } from "../../values/resolve";
import { freshPositioned, positioned } from "../base";
import { letterSize, someMeasure, type ItemKindOf, type ItemProblem } from "../kind";

const shape = object({
  ...positioned("text"),
  text: formattedText,
  /** The name of a font that ships, or the id of an uploaded one; a column or group value may also give its file's name. */
  font: bindable(words({ most: 200 })),
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
  media: ({ font }) =>
    isBinding(font) || (shippedFonts as readonly string[]).includes(font) ? [] : [{ kind: "font", value: font }],
  fonts: ({ font }) => (isBinding(font) ? shippedFonts : [font]),
  problems: ({ font }, rows) => fontProblems(font, rows),
};

/** A font that a row or group names and the study does not have: the first of them. */
function fontProblems(font: Bindable<string>, rows: readonly RowContext[]): ItemProblem[] {
  if (!isBinding(font)) return [];
  const nameIn = ({ context }: RowContext) => String(resolve(font, context) ?? "");
  const bad = rows.find((row) => fontCalled(nameIn(row), row.context.study.media) === null);
  if (!bad) return [];
  const name = nameIn(bad);
  return [
    {
      level: "error",
      message: `In row ${bad.number} its font is ${name === "" ? "empty" : `“${name}”, which the study does not have`}. Write the name of one that ships (${shippedFonts.join(", ")}) or of an uploaded file.`,
      row: bad.row,
      ...("column" in font.from ? { column: font.from.column } : {}),
    },
  ];
}
