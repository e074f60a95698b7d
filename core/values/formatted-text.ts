import { list, object } from "../shape/compound";
import { oneOf, text } from "../shape/plain";
import { choosing, optional, type Of } from "../shape/shape";
import { ref, type Ref } from "./ref";

const mark = oneOf("bold", "italic");
export type Mark = Of<typeof mark>;

/** Where a link leads: a web page, a mail or a telephone number. */
export const linkAddress = text({
  most: 2000,
  pattern: /^(?:https?:\/\/|mailto:|tel:)\S+$/i,
  otherwise: "must begin with https://, http://, mailto: or tel:",
});
const words = object({ text: text({ most: 20_000 }), marks: optional(list(mark)), link: optional(linkAddress) });
const name = object({ ref, marks: optional(list(mark)) });
/** A stretch of text in one style, or a name whose value is put in when it is shown. */
export type Run = Of<typeof words> | Of<typeof name>;
const run = choosing<Run>((value) => (typeof value === "object" && value !== null && "ref" in value ? name : words));

const paragraph = object({ as: oneOf("paragraph", "heading", "bullet", "numbered"), runs: list(run) });
export type Paragraph = Of<typeof paragraph>;

export const formattedText = list(paragraph, 0, 2_000);
export type FormattedText = Of<typeof formattedText>;

/** The words of formatted text alone, a line a paragraph; names stand as `…`. */
export const wordsIn = (formatted: FormattedText): string =>
  formatted.map(({ runs }) => runs.map((run) => ("text" in run ? run.text : "…")).join("")).join("\n");

/** The same with every name's value, as `valueOf` gives it, in its place. */
export const fixedIn = (formatted: FormattedText, valueOf: (ref: Ref) => string): FormattedText =>
  formatted.map(({ as, runs }) => ({
    as,
    runs: runs.map((run) =>
      "text" in run ? run : { text: valueOf(run.ref), ...(run.marks ? { marks: run.marks } : {}) },
    ),
  }));

/** Plain text as formatted text: one paragraph a line. */
export const plainText = (plain: string): FormattedText =>
  plain.split("\n").map((line) => ({ as: "paragraph", runs: line === "" ? [] : [{ text: line }] }));
