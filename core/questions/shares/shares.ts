import { object, record } from "../../shape/compound";
import { number, text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { columnStem } from "../../values/names";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";
import { flawsOfOptions, newOptions, offering, optionOrder, valueOfOption } from "../options";

const { options, order } = offering;
const shape = object({
  ...asked("shares"),
  options,
  order,
  /** What all together have to make. */
  total: number({ above: 0, most: 1e9 }),
  unit: text({ most: 40 }),
});
export interface SharesQuestion extends Of<typeof shape> {}

/** How much each option got, by its id; those without got nothing. */
const value = object({ each: record(number({ least: 0, most: 1e9 }), 60) });
export interface SharesValue extends Of<typeof value> {}

/** The sum, free of rounding errors in its decimals. */
export const sumOf = (each: Record<string, number>): number =>
  Number(
    Object.values(each)
      .reduce((sum, one) => sum + one, 0)
      .toPrecision(12),
  );

export const shares: QuestionKindOf<SharesQuestion, SharesValue> = {
  says: "points to share out",
  stem: "shares",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("shares", newId, name, "Share out 100 points."),
    options: newOptions(newId, "first", "second", "third"),
    order: "listed",
    total: 100,
    unit: "",
  }),
  problem: (question, { each }) => {
    const known = new Set(question.options.map(({ id }) => id));
    if (!Object.keys(each).every((one) => known.has(one))) return { words: "choosePlease" };
    const sum = sumOf(each);
    return sum === question.total ? null : { words: "sharesTotal", values: { total: question.total, sum } };
  },
  whileTyping: { words: "numberPlease" },
  type: () => "number",
  read: () => null,
  label: () => "",
  isOfLines: true,
  parts: (question) =>
    question.options.map((option) => ({
      id: option.id,
      name: columnStem(valueOfOption(option)),
      label: option.label,
      says: `how much “${option.label}” got`,
      type: "number",
      read: ({ each }) => each[option.id] ?? 0,
      score: ({ each }) => each[option.id] ?? 0,
    })),
  order: optionOrder,
  guess: ({ options: offered, total }, stream) => {
    const cuts = offered
      .slice(1)
      .map(() => Math.floor(stream.unit() * (total + 1)))
      .sort((a, b) => a - b);
    const each = offered.map(({ id }, at) => [id, (cuts[at] ?? total) - (cuts[at - 1] ?? 0)] as const);
    return { each: Object.fromEntries(each) };
  },
  seconds: (question) => 6 + 4 * question.options.length,
  flaws: flawsOfOptions,
};
