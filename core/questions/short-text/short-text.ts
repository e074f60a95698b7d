import { list, object } from "../../shape/compound";
import { text, title } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";
import { lengthFlaws, lengthProblem, lengths, wordsOf } from "../written";

const shape = object({
  ...asked("short-text"),
  ...lengths,
  /** What counts as right, without regard to case and outer blanks. */
  right: optional(list(title(500), 1, 50)),
});
export interface ShortTextQuestion extends Of<typeof shape> {}

const plain = (typed: string) => typed.normalize("NFC").trim().replace(/\s+/g, " ").toLowerCase();

export const shortText: QuestionKindOf<ShortTextQuestion, string> = {
  says: "short text",
  stem: "words",
  shape,
  value: text({ most: 4000 }),
  make: (newId, name) => ({ ...freshlyAsked("short-text", newId, name, "What would you call it?"), most: 200 }),
  problem: lengthProblem,
  type: () => "text",
  read: (_, given) => given,
  score: (question, given) => {
    const right = shortText.isRight?.(question, given) ?? null;
    return right === null ? null : right ? 1 : 0;
  },
  isRight: ({ right }, given) => (right ? right.some((each) => plain(each) === plain(given)) : null),
  guess: ({ right, ...bounds }, stream) =>
    right && stream.unit() < 0.6 ? (right[0] as string) : wordsOf({ ...bounds, most: Math.min(24, bounds.most ?? 24) }),
  seconds: () => 8,
  flaws: lengthFlaws,
};
