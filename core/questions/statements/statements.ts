import { list, object, record } from "../../shape/compound";
import { oneOf } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type QuestionKindOf } from "../kind";
import { ends, numbersOf, pointLevels, points, pointShape, statement } from "../points";
import { flawsOfLines, lineProblem, pointParts } from "../rated-lines";

const shape = object({
  ...asked("statements"),
  ...points,
  statements: list(statement, 0, 200),
  order: oneOf("listed", "shuffled"),
});
export interface StatementsQuestion extends Of<typeof shape> {}

/** The point chosen for each statement, by its id. */
const value = object({ each: record(pointShape, 60) });
export interface StatementsValue extends Of<typeof value> {}

export const statements: QuestionKindOf<StatementsQuestion, StatementsValue> = {
  says: "statements on one scale",
  stem: "statements",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("statements", newId, name, "How far do you agree?"),
    points: 5,
    from: 1,
    labels: ends(5, "not at all", "completely"),
    numbers: true,
    statements: ["First statement", "Second statement"].map((text, at) => ({
      id: newId("statement"),
      name: `s${at + 1}`,
      text,
    })),
    order: "listed",
  }),
  problem: (question, given) => lineProblem(question, question.statements, given.each),
  type: () => "number",
  read: () => null,
  label: () => "",
  isOfLines: true,
  parts: (question) =>
    question.statements.map((each) => ({
      ...pointParts(question, each, each.text),
      levels: pointLevels(question),
    })),
  order: ({ statements: lines, order }) => ({ entries: lines, how: order, last: [] }),
  guess: (question, stream) => ({
    each: Object.fromEntries(
      question.statements.map(({ id }) => [id, oneFrom(numbersOf(question), stream) ?? question.from]),
    ),
  }),
  seconds: ({ statements: lines }) => 4 + 4 * lines.length,
  flaws: ({ statements: lines }) => flawsOfLines(lines, "statement"),
};
