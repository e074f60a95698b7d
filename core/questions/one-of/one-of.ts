import { object } from "../../shape/compound";
import { oneOf, text } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { id } from "../../values/ref";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type QuestionKindOf } from "../kind";
import {
  flawsOfOptions,
  isOffered,
  newOptions,
  offering,
  optionById,
  optionLabel,
  optionLevels,
  optionOrder,
  optionValue,
  otherId,
  picturesOf,
  secondsForOptions,
} from "../options";

const shape = object({
  ...asked("one-of"),
  ...offering,
  layout: oneOf("list", "columns", "menu", "pictures"),
});
export interface OneOfQuestion extends Of<typeof shape> {}

const value = object({ option: id, other: optional(text({ most: 1000 })) });
export interface OneOfValue extends Of<typeof value> {}

export const oneOfSeveral: QuestionKindOf<OneOfQuestion, OneOfValue> = {
  says: "one of several",
  stem: "choice",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("one-of", newId, name, "Which of these fits best?"),
    options: newOptions(newId, "yes", "no"),
    order: "listed",
    layout: "list",
  }),
  problem: (question, { option, other }) => {
    if (!isOffered(question, option)) return { words: "choosePlease" };
    return option === otherId && !other?.trim() ? { words: "otherPlease" } : null;
  },
  type: () => "text",
  read: (question, { option }) => optionValue(question, option),
  label: (question, { option, other }) => optionLabel(question, option, other),
  levels: optionLevels,
  beside: ({ other }) =>
    other === undefined
      ? []
      : [
          {
            id: otherId,
            name: "other",
            label: other,
            says: `what was written beside “${other}”`,
            type: "text",
            read: (given) => given.other?.trim() || null,
          },
        ],
  score: (question, { option }) => {
    const found = optionById(question, option);
    if (found?.points !== undefined) return found.points;
    if (question.options.some(({ right }) => right)) return found?.right ? 1 : 0;
    const number = Number(optionValue(question, option) ?? "");
    return found && Number.isFinite(number) && optionValue(question, option) !== "" ? number : null;
  },
  isRight: (question, { option }) =>
    question.options.some(({ right }) => right) ? optionById(question, option)?.right === true : null,
  order: optionOrder,
  guess: (question, stream) => ({ option: oneFrom(question.options, stream)?.id ?? otherId }),
  seconds: secondsForOptions,
  files: picturesOf,
  flaws: flawsOfOptions,
};
