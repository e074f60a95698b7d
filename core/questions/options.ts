import { object, list } from "../shape/compound";
import { number, oneOf, only, text, title } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { id, type Id, type NewId } from "../values/ref";
import type { DrawnOrder, FileNeed, Flaw, Level } from "./kind";

const optionFields = object({
  id,
  /** What participants read. */
  label: title(500),
  /** What stands in the data; the label where it is left out. */
  value: optional(text({ most: 100, missing: "is missing: type what stands in the data" })),
  picture: optional(id),
  /** It is a right answer. */
  right: optional(only(true)),
  /** What it brings to a score. */
  points: optional(number({ least: -1e6, most: 1e6 })),
  /** It stays behind all others when they are shuffled. */
  last: optional(only(true)),
  /** It excludes all others. */
  alone: optional(only(true)),
});
export interface Option extends Of<typeof optionFields> {}
const option: Shape<Option> = optionFields;

/** What kinds that offer options have in common. */
export const offering = {
  options: list(option, 0, 300),
  order: oneOf("listed", "shuffled", "rotated"),
  /** What stands before a field for another answer; left out where none is taken. */
  other: optional(title(200)),
};
type Offering = { options: Option[]; order: DrawnOrder["how"]; other?: string | undefined };

/** The id that stands for “other” among the options. */
export const otherId = "other";

export const newOptions = (newId: NewId, ...labels: string[]): Option[] =>
  labels.map((label) => ({ id: newId("option"), label }));

export const valueOfOption = ({ value, label }: Option): string => value ?? label;
export const optionById = ({ options }: Offering, wanted: Id): Option | undefined =>
  options.find(({ id }) => id === wanted);
export const isOffered = (question: Offering, wanted: Id): boolean =>
  optionById(question, wanted) !== undefined || (wanted === otherId && question.other !== undefined);

/** What an option is called in the data, “other” included. */
export const optionValue = (question: Offering, wanted: Id): string | null => {
  const found = optionById(question, wanted);
  return found ? valueOfOption(found) : wanted === otherId ? otherId : null;
};
export const optionLabel = (question: Offering, wanted: Id, otherText: string | undefined): string =>
  optionById(question, wanted)?.label ?? (wanted === otherId ? (otherText ?? question.other ?? "") : "");

export const optionLevels = (question: Offering): Level[] => [
  ...question.options.map((each) => ({ value: valueOfOption(each), label: each.label })),
  ...(question.other === undefined ? [] : [{ value: otherId, label: question.other }]),
];

export const optionOrder = ({ options, order }: Offering): DrawnOrder => ({
  entries: options.map((each) => ({ id: each.id, name: valueOfOption(each) })),
  how: order,
  last: options.filter(({ last }) => last).map(({ id }) => id),
});

export const picturesOf = ({ options }: Offering): FileNeed[] =>
  options.flatMap(({ picture, label }) =>
    picture === undefined ? [] : [{ kind: "picture" as const, file: picture, what: `option “${label}”` }],
  );

export function flawsOfOptions(question: Offering): Flaw[] {
  const flaws: Flaw[] = [];
  if (question.options.length + (question.other === undefined ? 0 : 1) < 2)
    flaws.push({ level: "error", message: "It has fewer than two options. Add some, or choose another kind." });
  const seen = new Set<string>();
  for (const each of question.options) {
    const value = valueOfOption(each).toLowerCase();
    if (seen.has(value))
      flaws.push({
        level: "error",
        message: `Two options have “${valueOfOption(each)}” in the data. Give each a value of its own.`,
      });
    seen.add(value);
  }
  return flaws;
}

/** Ten words with each a number of its own are read in about five seconds. */
export const secondsForOptions = ({ options }: Offering): number => 2 + 0.7 * options.length;
