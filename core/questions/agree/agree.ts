import { object } from "../../shape/compound";
import { only, title } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { plainText } from "../../values/formatted-text";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";

const shape = object({
  ...asked("agree"),
  /** What stands beside the box. */
  label: title(1000),
});
export interface AgreeQuestion extends Of<typeof shape> {}

export const agree: QuestionKindOf<AgreeQuestion, true> = {
  says: "tick to agree",
  stem: "agreed",
  shape,
  value: only(true),
  make: (newId, name) => ({
    ...freshlyAsked("agree", newId, name, ""),
    text: plainText(""),
    need: "must",
    label: "I have read this and agree.",
  }),
  problem: () => null,
  type: () => "yes/no",
  read: () => true,
  label: ({ label }) => label,
  levels: () => [{ value: true, label: "ticked" }],
  score: () => 1,
  guess: () => true,
  seconds: () => 3,
};
