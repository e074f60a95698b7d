import { list, object } from "../../shape/compound";
import { text, whole } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { columnStem } from "../../values/names";
import { id } from "../../values/ref";
import { asked, freshlyAsked } from "../base";
import { oneFrom, type AnswerPart, type QuestionKindOf } from "../kind";
import {
  flawsOfOptions,
  isOffered,
  newOptions,
  offering,
  optionById,
  optionLabel,
  optionOrder,
  optionValue,
  otherId,
  picturesOf,
  secondsForOptions,
  valueOfOption,
} from "../options";

const shape = object({
  ...asked("several-of"),
  ...offering,
  /** Fewest and most ticks; left out where any number is taken. */
  least: optional(whole(1, 300)),
  most: optional(whole(1, 300)),
});
export interface SeveralOfQuestion extends Of<typeof shape> {}

const value = object({ options: list(id, 0, 301), other: optional(text({ most: 1000 })) });
export interface SeveralOfValue extends Of<typeof value> {}

export const severalOfMany: QuestionKindOf<SeveralOfQuestion, SeveralOfValue> = {
  says: "several of many",
  stem: "ticks",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("several-of", newId, name, "Which of these apply? Tick all that do."),
    options: newOptions(newId, "first", "second", "third"),
    order: "listed",
  }),
  problem: (question, { options, other }) => {
    if (
      options.length === 0 ||
      new Set(options).size < options.length ||
      !options.every((each) => isOffered(question, each))
    )
      return { words: "choosePlease" };
    if (options.includes(otherId) && !other?.trim()) return { words: "otherPlease" };
    const isAlone = options.some((each) => optionById(question, each)?.alone);
    if (isAlone) return options.length > 1 ? { words: "aloneOnly" } : null;
    if (question.least !== undefined && options.length < question.least)
      return { words: "ticksLeast", values: { least: question.least } };
    if (question.most !== undefined && options.length > question.most)
      return { words: "ticksMost", values: { most: question.most } };
    return null;
  },
  type: () => "text",
  read: (question, { options }) => options.map((each) => optionValue(question, each) ?? "").join("; "),
  label: (question, { options, other }) => options.map((each) => optionLabel(question, each, other)).join(", "),
  parts: (question) => [
    ...question.options.map((each): AnswerPart<SeveralOfValue> => ({
      id: each.id,
      name: columnStem(valueOfOption(each)),
      label: each.label,
      says: `whether “${each.label}” was ticked`,
      type: "yes/no",
      read: ({ options }) => options.includes(each.id),
      score: ({ options }) => (options.includes(each.id) ? 1 : 0),
    })),
    ...(question.other === undefined
      ? []
      : [
          {
            id: otherId,
            name: "other",
            label: question.other,
            says: `what was written beside “${question.other}”`,
            type: "text" as const,
            read: ({ options, other }: SeveralOfValue) => (options.includes(otherId) ? (other?.trim() ?? "") : null),
          },
        ]),
  ],
  score: (question, { options }) => {
    const each = options.map((option) => optionById(question, option));
    if (question.options.some(({ points }) => points !== undefined))
      return each.reduce((sum, option) => sum + (option?.points ?? 0), 0);
    const right = severalOfMany.isRight?.(question, { options }) ?? null;
    return right === null ? options.length : right ? 1 : 0;
  },
  isRight: (question, { options }) => {
    const right = question.options.filter((each) => each.right);
    if (right.length === 0) return null;
    return options.length === right.length && right.every(({ id: wanted }) => options.includes(wanted));
  },
  order: optionOrder,
  guess: (question, stream) => {
    const free = question.options.filter(({ alone }) => !alone);
    const least = Math.min(free.length, question.least ?? 1);
    const most = Math.min(free.length, question.most ?? free.length);
    const ticked = free.filter(() => stream.unit() < 0.4).map((each) => each.id);
    for (const each of free) if (ticked.length < least && !ticked.includes(each.id)) ticked.push(each.id);
    return {
      options:
        ticked.length > 0 ? ticked.slice(0, Math.max(1, most)) : [oneFrom(question.options, stream)?.id ?? otherId],
    };
  },
  seconds: (question) => secondsForOptions(question) + 2,
  files: picturesOf,
  flaws: (question) => {
    const flaws = flawsOfOptions(question);
    const count = question.options.length + (question.other === undefined ? 0 : 1);
    const { least = 1, most = count } = question;
    if (least > most || least > count)
      flaws.push({
        level: "error",
        message: `It asks for at least ${least} ticks, which cannot be made. Ask for fewer, or allow more.`,
      });
    return flaws;
  },
};
