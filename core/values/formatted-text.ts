import { list, object } from "../shape/compound";
import { oneOf, text } from "../shape/plain";
import { choosing, optional, type Of } from "../shape/shape";
import { ref } from "./ref";

const mark = oneOf("bold", "italic");
export type Mark = Of<typeof mark>;

const words = object({ text: text({ most: 20_000 }), marks: optional(list(mark)) });
const name = object({ ref, marks: optional(list(mark)) });
/** A stretch of text in one style, or a name whose value is put in when it is shown. */
export type Run = Of<typeof words> | Of<typeof name>;
const run = choosing<Run>((value) => (typeof value === "object" && value !== null && "ref" in value ? name : words));

const paragraph = object({ as: oneOf("paragraph", "heading", "bullet", "numbered"), runs: list(run) });
export type Paragraph = Of<typeof paragraph>;

export const formattedText = list(paragraph, 0, 2_000);
export type FormattedText = Of<typeof formattedText>;

/** Plain text as formatted text: one paragraph a line. */
export const plainText = (plain: string): FormattedText =>
  plain.split("\n").map((line) => ({ as: "paragraph", runs: line === "" ? [] : [{ text: line }] }));
