import { object } from "../../shape/compound";
import { oneOf, text, whole } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { positive } from "../../values/amounts";
import { freshSized, sized } from "../base";
import { letterSize, noMedia, type ItemKindOf } from "../kind";

const shape = object({
  ...sized("entry"),
  lines: oneOf("one", "several"),
  takes: oneOf("text", "number"),
  /** Longest text, in characters. */
  longest: whole(1, 10_000),
  hint: text({ most: 200 }),
  fontSize: positive,
});
export interface EntryItem extends Of<typeof shape> {}

export const entry: ItemKindOf<EntryItem> = {
  shape,
  make: (newId, name) => ({
    ...freshSized("entry", newId, name, 40, 8),
    lines: "one",
    takes: "text",
    longest: 200,
    hint: "",
    fontSize: 4,
  }),
  measures: letterSize,
  media: noMedia,
  isWorked: true,
};
