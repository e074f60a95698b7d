import { object } from "../../shape/compound";
import { yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type QuestionKindOf } from "../kind";
import { counted, ends, isPoint, numbersOf, pointLabel, pointLevels, points, pointShape } from "../points";

const shape = object({
  ...asked("scale"),
  ...points,
  /** Counts in the other direction. */
  reversed: yesNo,
});
export interface ScaleQuestion extends Of<typeof shape> {}

const value = object({ point: pointShape });
export interface ScaleValue extends Of<typeof value> {}

export const scale: QuestionKindOf<ScaleQuestion, ScaleValue> = {
  says: "scale",
  stem: "rating",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("scale", newId, name, "How much does this hold for you?"),
    points: 7,
    from: 1,
    labels: ends(7, "not at all", "very"),
    numbers: true,
    reversed: false,
  }),
  problem: (question, { point }) => (isPoint(question, point) ? null : { words: "choosePlease" }),
  type: () => "number",
  read: (_, { point }) => point,
  label: (question, { point }) => pointLabel(question, point),
  levels: pointLevels,
  score: (question, { point }) => counted(question, point, question.reversed),
  guess: (question, stream) => ({ point: oneFrom(numbersOf(question), stream) ?? question.from }),
  seconds: () => 4,
};
