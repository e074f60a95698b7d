import { passageShapes, siteAddress, type Passage } from "../passages/passage";
import { questionShape, questionShapes, type Question } from "../questions/registry";
import { rules } from "../rules/rule";
import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, text, title, whole, yesNo } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { condition } from "../values/condition";
import { formattedText, plainText, type FormattedText } from "../values/formatted-text";
import { bindable, id, type NewId } from "../values/ref";
import { notes } from "./notes";

/** Questions from a list, all of them or some drawn for each participant. */
const setFields = object({
  kind: only("set"),
  id,
  name: title(),
  questions: list(questionShape, 0, 500),
  /** How many are drawn; all where it is left out. */
  take: optional(whole(1, 500)),
  order: oneOf("listed", "shuffled"),
});
export interface QuestionSet extends Of<typeof setFields> {}

const piece: Shape<Passage | Question | QuestionSet> = variant("kind", {
  ...passageShapes,
  ...questionShapes,
  set: setFields,
}) as Shape<Passage | Question | QuestionSet>;
/** What stands in a page's flow: text and the like, a question, or a set of them. */
export type Piece = Of<typeof piece>;

const endingFields = object({
  id,
  /** The session ends after the page if this holds. */
  when: condition,
  as: oneOf("screened-out", "declined"),
  /** What is read then. */
  text: formattedText,
  /** Where a button leads, for example back to a panel; left out for no button. */
  address: optional(siteAddress),
});
export interface Ending extends Of<typeof endingFields> {}

const seconds = number({ least: 1, most: 36_000 });
const timeFields = object({
  /** Participants cannot continue sooner. */
  least: optional(seconds),
  /** The page goes on by itself then. */
  most: optional(seconds),
  /** So long before the end it is told; left out for no warning. */
  warns: optional(seconds),
  /** The time left is shown throughout. */
  countdown: yesNo,
});
/** How long a page may be on, in seconds. */
export interface PageTime extends Of<typeof timeFields> {}

const pageFields = object({
  kind: only("page"),
  id,
  name: title(),
  flow: list(piece, 0, 1000),
  continueLabel: title(80),
  /** Everything at once, or one question after the other. */
  shows: oneOf("all", "one"),
  /** Participants may go back to the page before. */
  back: yesNo,
  time: optional(timeFields),
  /** The font of its texts and questions, as that of a text item; the usual one where this is left out. */
  font: optional(bindable(text({ most: 200 }))),
  /** Whether the bar that tells how much is done is shown, where it is not as the study says. */
  progress: optional(oneOf("shown", "hidden")),
  /** Whether participants can save a copy of it, with what they answered on it: of a consent. */
  copy: optional(yesNo),
  endings: list(endingFields, 0, 20),
  rules,
  notes,
});
export interface Page extends Of<typeof pageFields> {}
export const page: Shape<Page> = pageFields;

/** A page that says one text. */
export const newPage = (
  newId: NewId,
  name: string,
  text: FormattedText = plainText("Write here what participants read."),
): Page => ({
  kind: "page",
  id: newId("page"),
  name,
  flow: [{ kind: "text", id: "text-1", text }],
  ...plainPage,
});

/** How pages are unless something else is chosen. */
export const plainPage = {
  continueLabel: "Continue",
  shows: "all" as const,
  back: false,
  endings: [] as Page["endings"],
  rules: [] as Page["rules"],
  notes: "",
};
