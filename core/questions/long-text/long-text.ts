import { object } from "../../shape/compound";
import { text, whole, yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";
import { lengthFlaws, lengthProblem, lengths, wordsOf } from "../written";

const shape = object({
  ...asked("long-text"),
  ...lengths,
  /** How many lines its field shows. */
  lines: whole(2, 40),
  /** The characters are counted while it is typed. */
  counts: yesNo,
});
export interface LongTextQuestion extends Of<typeof shape> {}

export const longText: QuestionKindOf<LongTextQuestion, string> = {
  says: "long text",
  stem: "comment",
  shape,
  value: text({ most: 20_000 }),
  make: (newId, name) => ({
    ...freshlyAsked("long-text", newId, name, "Please describe it in your own words."),
    most: 2000,
    lines: 4,
    counts: false,
  }),
  problem: lengthProblem,
  type: () => "text",
  read: (_, given) => given,
  guess: (question) => wordsOf({ least: question.least, most: question.most }),
  seconds: () => 25,
  flaws: lengthFlaws,
};
