import { object } from "../../shape/compound";
import { number, text, yesNo } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";

const shape = object({
  ...asked("line"),
  from: number({ least: -1e6, most: 1e6 }),
  to: number({ least: -1e6, most: 1e6 }),
  step: number({ above: 0, most: 1e6 }),
  /** The value is shown beside the mark. */
  showsValue: yesNo,
  left: text({ most: 120 }),
  middle: text({ most: 120 }),
  right: text({ most: 120 }),
});
export interface LineQuestion extends Of<typeof shape> {}

const value = number({ least: -1e6, most: 1e6 });

/** The step a position belongs to, free of rounding errors in its decimals. */
export function onStep({ from, to, step }: Pick<LineQuestion, "from" | "to" | "step">, position: number): number {
  const steps = Math.round((Math.min(to, Math.max(from, position)) - from) / step);
  return Number(Math.min(to, from + steps * step).toPrecision(12));
}

export const line: QuestionKindOf<LineQuestion, number> = {
  says: "line to mark",
  stem: "mark",
  shape,
  value,
  make: (newId, name) => ({
    ...freshlyAsked("line", newId, name, "Where on this line?"),
    from: 0,
    to: 100,
    step: 1,
    showsValue: false,
    left: "not at all",
    middle: "",
    right: "completely",
  }),
  problem: (question, given) => (onStep(question, given) === given ? null : { words: "choosePlease" }),
  type: () => "number",
  read: (_, given) => given,
  score: (_, given) => given,
  guess: (question, stream) => onStep(question, question.from + stream.unit() * (question.to - question.from)),
  seconds: () => 5,
  flaws: ({ from, to, step }) =>
    to <= from || step > to - from
      ? [{ level: "error", message: "The line has no length, or its step is longer than it. Change its ends." }]
      : [],
};
