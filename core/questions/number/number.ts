import { object } from "../../shape/compound";
import { number as numberShape, text, whole } from "../../shape/plain";
import { optional, type Of } from "../../shape/shape";
import { asked, freshlyAsked } from "../base";
import type { QuestionKindOf } from "../kind";

const bound = numberShape({ least: -1e12, most: 1e12 });
const shape = object({
  ...asked("number"),
  unit: text({ most: 40 }),
  least: optional(bound),
  most: optional(bound),
  decimals: whole(0, 6),
  /** The right answer, where there is one. */
  right: optional(bound),
});
export interface NumberQuestion extends Of<typeof shape> {}

/** A number as people write it, with a decimal point or comma; null where it is none. */
export function numberIn(typed: string): number | null {
  const plain = typed
    .trim()
    .replace(/[\u2212\u2013]/g, "-")
    .replace(",", ".");
  return /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)$/.test(plain) ? Number(plain) : null;
}

const decimalsOf = (value: number) => (String(value).includes("e-") ? 99 : (String(value).split(".")[1]?.length ?? 0));

export const number: QuestionKindOf<NumberQuestion, number> = {
  says: "number",
  stem: "number",
  shape,
  value: numberShape({ least: -1e15, most: 1e15 }),
  make: (newId, name) => ({
    ...freshlyAsked("number", newId, name, "How many?"),
    unit: "",
    decimals: 0,
  }),
  problem: ({ least, most, decimals }, given) => {
    if (least !== undefined && most !== undefined && (given < least || given > most))
      return { words: "numberBetween", values: { least, most } };
    if (least !== undefined && given < least) return { words: "numberLeast", values: { least } };
    if (most !== undefined && given > most) return { words: "numberMost", values: { most } };
    if (decimalsOf(given) <= decimals) return null;
    return decimals === 0 ? { words: "numberWhole" } : { words: "numberDecimals", values: { decimals } };
  },
  whileTyping: { words: "numberPlease" },
  type: () => "number",
  read: (_, given) => given,
  score: ({ right }, given) => (right === undefined ? given : given === right ? 1 : 0),
  isRight: ({ right }, given) => (right === undefined ? null : given === right),
  guess: ({ least = 0, most = least + 100, decimals }, stream) =>
    Number((least + stream.unit() * (most - least)).toFixed(decimals)),
  seconds: () => 6,
  flaws: ({ least, most }) =>
    least !== undefined && most !== undefined && least > most
      ? [{ level: "error", message: "The least it takes is more than the most. Change one of them." }]
      : [],
};
