import type { Stream } from "../random/stream";
import { medianOf } from "./median";
import type { Binding, Scalar, Value } from "./ref";

/** What a calculation gets: its values, lists among them, and where it draws, a stream for it. */
type Given = { values: readonly (Value | null)[]; stream: Stream | null };

type Kind = {
  /** How it is put between or before its values: “a plus b”, “the mean of a”. */
  says: string;
  /** Sign between two values; others stand as a word before theirs. */
  sign?: string;
  /** What its values are called, in their order; the last one may come several times where `more` is set. */
  takes: readonly string[];
  more?: true;
  gives: "number" | "text";
  draws?: true;
  /** Null where a value is missing or is none that can be calculated with. */
  compute: (given: Given) => Scalar | null;
};

/** A number out of a value; null where it is none. Yes counts as 1, no as 0. */
function numberIn(value: Value | null | undefined): number | null {
  if (value === null || value === undefined || value === "" || Array.isArray(value)) return null;
  const number = Number(value);
  return Number.isFinite(number) ? number : null;
}
const each = (values: readonly (Value | null)[]): (Scalar | null)[] => values.flatMap((value) => value);
/** All numbers of some values and lists; those that are none are left out. */
const numbersIn = (values: readonly (Value | null)[]): number[] =>
  each(values).flatMap((value) => numberIn(value) ?? []);
const textOf = (value: Value | null | undefined): string =>
  value === null || value === undefined ? "" : Array.isArray(value) ? value.join("; ") : String(value);
const finite = (number: number): number | null => (Number.isFinite(number) ? number : null);

const ofTwo = (compute: (a: number, b: number) => number) => ({
  gives: "number" as const,
  compute: ({ values }: Given) => {
    const [a, b] = [numberIn(values[0]), numberIn(values[1])];
    return a === null || b === null ? null : finite(compute(a, b));
  },
});
const ofOne = (compute: (a: number) => number) => ({
  gives: "number" as const,
  compute: ({ values }: Given) => {
    const number = numberIn(values[0]);
    return number === null ? null : compute(number);
  },
});
const ofAll = (compute: (numbers: number[]) => number) => ({
  gives: "number" as const,
  more: true as const,
  compute: ({ values }: Given) => {
    const numbers = numbersIn(values);
    return numbers.length === 0 ? null : finite(compute(numbers));
  },
});
/** Random whole numbers lie within so much of 0. */
const mostDrawn = 1e9;
const sum = (numbers: readonly number[]) => numbers.reduce((total, number) => total + number, 0);
const mean = (numbers: readonly number[]) => sum(numbers) / numbers.length;
const kinds = {
  plus: { says: "plus", sign: "+", takes: ["a number", "a number"], ...ofTwo((a, b) => a + b) },
  minus: { says: "minus", sign: "−", takes: ["a number", "a number"], ...ofTwo((a, b) => a - b) },
  times: { says: "times", sign: "×", takes: ["a number", "a number"], ...ofTwo((a, b) => a * b) },
  "divided-by": { says: "divided by", sign: "÷", takes: ["a number", "a number"], ...ofTwo((a, b) => a / b) },
  remainder: {
    says: "remainder of the division",
    sign: "remainder after ÷",
    takes: ["a number", "a number"],
    ...ofTwo((a, b) => a - b * Math.floor(a / b)),
  },
  round: {
    says: "rounded to decimals",
    sign: "rounded to decimals:",
    takes: ["a number", "decimals"],
    ...ofTwo((a, decimals) => {
      const power = 10 ** Math.max(0, Math.min(12, Math.round(decimals)));
      return Math.round(a * power) / power;
    }),
  },
  absolute: { says: "size without sign of", takes: ["a number"], ...ofOne(Math.abs) },
  least: { says: "least of", takes: ["a number or list"], ...ofAll((numbers) => Math.min(...numbers)) },
  most: { says: "most of", takes: ["a number or list"], ...ofAll((numbers) => Math.max(...numbers)) },
  sum: { says: "sum of", takes: ["a number or list"], ...ofAll(sum) },
  mean: { says: "mean of", takes: ["a number or list"], ...ofAll(mean) },
  median: { says: "median of", takes: ["a number or list"], ...ofAll(medianOf) },
  "standard-deviation": {
    says: "standard deviation of",
    takes: ["a number or list"],
    // Of a sample: divided by one less than there are.
    ...ofAll((numbers) => {
      const middle = mean(numbers);
      return Math.sqrt(sum(numbers.map((number) => (number - middle) ** 2)) / (numbers.length - 1));
    }),
  },
  count: {
    says: "count of entries in",
    takes: ["a list"],
    more: true,
    gives: "number",
    compute: ({ values }: Given) => each(values).filter((value) => value !== null && value !== "").length,
  },
  join: {
    says: "texts joined:",
    takes: ["a text", "a text"],
    more: true,
    gives: "text",
    compute: ({ values }: Given) => values.map(textOf).join("").slice(0, 10_000),
  },
  length: {
    says: "number of letters in",
    takes: ["a text"],
    gives: "number",
    compute: ({ values }: Given) => [...textOf(values[0])].length,
  },
  position: {
    says: "position in a text of",
    takes: ["a text", "what is looked for"],
    gives: "number",
    // Counted from 1; 0 where it is not in it.
    compute: ({ values }: Given) => positionOf(values),
  },
  part: {
    says: "part of",
    takes: ["a text", "its first letter, from 1", "how many letters"],
    gives: "text",
    compute: ({ values }: Given) => {
      const [from, count] = [numberIn(values[1]) ?? 1, numberIn(values[2])];
      const letters = [...textOf(values[0])];
      return letters.slice(Math.max(0, from - 1), count === null ? undefined : Math.max(0, from - 1 + count)).join("");
    },
  },
  entry: {
    says: "entry of",
    takes: ["a list", "its number, from 1"],
    gives: "text",
    compute: ({ values }: Given) => {
      const list = Array.isArray(values[0]) ? values[0] : values.slice(0, 1).flatMap((value) => value ?? []);
      return list[(numberIn(values[1]) ?? 1) - 1] ?? null;
    },
  },
  "random-whole": {
    says: "random whole number between",
    takes: ["the least", "the most"],
    gives: "number",
    draws: true,
    compute: ({ values, stream }: Given) => {
      const [a, b] = [numberIn(values[0]), numberIn(values[1])];
      if (a === null || b === null || !stream) return null;
      const [least, most] = [Math.ceil(Math.min(a, b)), Math.floor(Math.max(a, b))];
      // Between 1.2 and 1.8 there is none, and of numbers beyond all counting none is drawn.
      return least > most || least < -mostDrawn || most > mostDrawn ? null : stream.whole(least, most);
    },
  },
  "random-pick": {
    says: "one at random of",
    takes: ["a value or list"],
    more: true,
    gives: "text",
    draws: true,
    compute: ({ values, stream }: Given) => {
      const all = each(values).filter((value) => value !== null);
      return all.length === 0 || !stream ? null : (all[stream.whole(0, all.length - 1)] ?? null);
    },
  },
} as const satisfies Record<string, Kind>;

function positionOf(values: Given["values"]): number {
  const [whole, sought] = [textOf(values[0]), textOf(values[1])];
  const at = sought === "" ? -1 : whole.indexOf(sought);
  return at < 0 ? 0 : [...whole.slice(0, at)].length + 1;
}

export type CalculationName = keyof typeof kinds;
export const calculationNames = Object.keys(kinds) as CalculationName[];
export const calculationKind = (name: CalculationName): Kind => kinds[name];

/** A value worked out of others. It is picked, never typed as a formula. */
export type Calculation = { calculate: CalculationName; of: Operand[] };
export type Operand = Scalar | null | Binding | Calculation;

export const isCalculation = (value: unknown): value is Calculation =>
  typeof value === "object" && value !== null && "calculate" in value;
