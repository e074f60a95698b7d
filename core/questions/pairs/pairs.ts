import { list, object, record } from "../../shape/compound";
import { oneOf, title, yesNo } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { nameShape } from "../../values/names";
import { id } from "../../values/ref";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type QuestionKindOf } from "../kind";
import { ends, numbersOf, points, pointShape } from "../points";
import { flawsOfLines, lineProblem, pointParts } from "../rated-lines";

const pair = object({ id, name: nameShape, left: title(200), right: title(200), reversed: optional(yesNo) });
const shape = object({
  ...asked("pairs"),
  ...points,
  pairs: list(pair, 0, 100),
  order: oneOf("listed", "shuffled"),
});
export interface PairsQuestion extends Of<typeof shape> {}

/** The point chosen for each pair, by its id; the first stands at the left. */
const value = object({ each: record(pointShape, 60) });
export interface PairsValue extends Of<typeof value> {}

export const pairs: QuestionKindOf<PairsQuestion, PairsValue> = {
  says: "opposite pairs",
  stem: "pairs",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("pairs", newId, name, "How was it?"),
    points: 7,
    from: 1,
    labels: ends(7, "", ""),
    numbers: false,
    pairs: [
      ["dull", "bright"],
      ["slow", "fast"],
    ].map(([left = "", right = ""], at) => ({ id: newId("pair"), name: `p${at + 1}`, left, right })),
    order: "listed",
  }),
  problem: (question, given) => lineProblem(question, question.pairs, given.each),
  type: () => "number",
  read: () => null,
  label: () => "",
  isOfLines: true,
  parts: (question) =>
    question.pairs.map((each) => ({
      ...pointParts(question, each, `${each.left} – ${each.right}`),
      levels: [
        { value: question.from, label: each.left },
        { value: question.from + question.points - 1, label: each.right },
      ],
    })),
  order: ({ pairs: lines, order }) => ({ entries: lines, how: order, last: [] }),
  guess: (question, stream) => ({
    each: Object.fromEntries(
      question.pairs.map((each) => [each.id, oneFrom(numbersOf(question), stream) ?? question.from]),
    ),
  }),
  seconds: ({ pairs: lines }) => 4 + 3 * lines.length,
  flaws: ({ pairs: lines }) => flawsOfLines(lines, "pair"),
};
