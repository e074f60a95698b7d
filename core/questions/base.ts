import { only, oneOf, text, yesNo } from "../shape/plain";
import { optional } from "../shape/shape";
import { condition } from "../values/condition";
import { formattedText, plainText } from "../values/formatted-text";
import { nameShape } from "../values/names";
import { id, type NewId } from "../values/ref";

/** The fields that every question has. */
export const asked = <const K extends string>(kind: K) => ({
  kind: only(kind),
  id,
  /** Its column in the data, and what bindings call it. */
  name: nameShape,
  text: formattedText,
  /** What is said below it in smaller letters; empty for nothing. */
  explanation: text({ most: 2000 }),
  /** Whether participants can continue without an answer: never, after one reminder, or as they like. */
  need: oneOf("must", "reminder", "may"),
  /** “I would rather not say” is offered. */
  ratherNot: yesNo,
  when: optional(condition),
});

/** A question of any kind, as far as all have the same fields. */
export type AnyQuestion = { kind: string; id: string; name: string };

/** What every new question begins with. */
export const freshlyAsked = <const K extends string>(kind: K, newId: NewId, name: string, asks: string) => ({
  kind,
  id: newId("question"),
  name,
  text: plainText(asks),
  explanation: "",
  need: "reminder" as const,
  ratherNot: false,
});
