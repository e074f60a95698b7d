import { list, object } from "../../shape/compound";
import type { Of } from "../../shape/shape";
import { shuffled } from "../../random/shuffle";
import { columnStem } from "../../values/names";
import { id } from "../../values/ref";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";
import { flawsOfOptions, newOptions, offering, optionLabel, optionOrder, optionValue, valueOfOption } from "../options";

const { options, order } = offering;
const shape = object({ ...asked("ranking"), options, order });
export interface RankingQuestion extends Of<typeof shape> {}

/** The options' ids from the first place to the last. */
const value = object({ ranked: list(id, 0, 300) });
export interface RankingValue extends Of<typeof value> {}

export const ranking: QuestionKindOf<RankingQuestion, RankingValue> = {
  says: "ranking",
  stem: "ranking",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("ranking", newId, name, "Put these in order, the best first."),
    options: newOptions(newId, "first", "second", "third"),
    order: "shuffled",
  }),
  problem: (question, { ranked }) => {
    const known = new Set(question.options.map((each) => each.id));
    return ranked.length === known.size &&
      new Set(ranked).size === known.size &&
      ranked.every((each) => known.has(each))
      ? null
      : { words: "rankAll" };
  },
  type: () => "text",
  read: (question, { ranked }) => ranked.map((each) => optionValue(question, each) ?? "").join(" > "),
  label: (question, { ranked }) => ranked.map((each) => optionLabel(question, each, undefined)).join(", "),
  parts: (question) =>
    question.options.map((each) => ({
      id: each.id,
      name: columnStem(valueOfOption(each)),
      label: each.label,
      says: `the place of “${each.label}”, from 1`,
      type: "number",
      read: ({ ranked }) => (ranked.includes(each.id) ? ranked.indexOf(each.id) + 1 : null),
      score: ({ ranked }) => (ranked.includes(each.id) ? ranked.indexOf(each.id) + 1 : null),
    })),
  order: optionOrder,
  guess: (question, stream) => ({
    ranked: shuffled(
      question.options.map((each) => each.id),
      stream,
    ),
  }),
  seconds: (question) => 4 + 3 * question.options.length,
  flaws: flawsOfOptions,
};
