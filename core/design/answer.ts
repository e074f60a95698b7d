import { newKeys } from "../devices/keys/keys";
import { itemsOfAnswer } from "../devices/device";
import { deviceShape } from "../devices/registry";
import { list, object } from "../shape/compound";
import { number, oneOf, title } from "../shape/plain";
import { choosing, optional, type Of, type Shape } from "../shape/shape";
import { binding, id, scalar, type Binding, type Id, type NewId, type Scalar } from "../values/ref";

const answerFields = object({
  id,
  name: title(40),
  /** Scene whose onset opens the window. */
  opensWith: id,
  /** Scene whose end closes the window. */
  closesWith: id,
  /** Scene whose onset the reaction time counts from, where that is not the opening one. */
  countsFrom: optional(id),
  by: list(deviceShape, 0, 20),
  right: optional(
    choosing<Scalar | Binding>((value) => (typeof value === "object" && value !== null ? binding : scalar)),
  ),
  /** `one-of`: the right answer lists several, separated by semicolons; spelling as with `ignore-case`. */
  match: oneOf("exact", "ignore-case", "number", "one-of"),
  /** Largest distance from a right number. */
  tolerance: optional(number({ least: 0 })),
  counts: oneOf("first", "last"),
  onAnswer: oneOf("move-on", "stay"),
  /** What an answer before the window does; it is recorded in both cases. */
  onEarly: oneOf("go-on", "end-window"),
});
/** One of a block's answers: when it is taken, how it is given, which one is right, and what it does. */
export interface AnswerSpec extends Of<typeof answerFields> {}
export const answer: Shape<AnswerSpec> = answerFields;

export const newAnswer = (opensWith: Id, closesWith: Id, newId: NewId): AnswerSpec => ({
  id: newId("answer"),
  name: "answer",
  opensWith,
  closesWith,
  by: [newKeys(["f", "j"])],
  match: "exact",
  counts: "first",
  onAnswer: "move-on",
  onEarly: "go-on",
});

/** Which of these answers are given by an item, in words. */
export const answersGivenBy = (answers: readonly AnswerSpec[], item: Id): string[] =>
  answers
    .filter((each) => itemsOfAnswer(each).some((used) => used.item === item))
    .map(({ name }) => `the answer “${name}”`);
