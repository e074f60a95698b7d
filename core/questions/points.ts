import { list, object } from "../shape/compound";
import { number, text, title, whole, yesNo } from "../shape/plain";
import { nullable, optional, type Of, type Shape } from "../shape/shape";
import { nameShape } from "../values/names";
import { id } from "../values/ref";
import type { Level } from "./kind";

/** A row of points from one end to the other. */
export const points = {
  /** How many there are. */
  points: whole(2, 11),
  /** The number of the first. */
  from: number({ least: -1000, most: 1000, whole: true }),
  /** What stands at the points: one text each, empty where nothing does. */
  labels: list(text({ most: 120 }), 0, 11),
  /** Their numbers are shown. */
  numbers: yesNo,
  /** What stands before a choice apart from the points, such as “not applicable”; left out where there is none. */
  apart: optional(title(120)),
};
type Points = {
  points: number;
  from: number;
  labels: string[];
  numbers: boolean;
  apart?: string | undefined;
};

/** A number of a point; null stands for the choice apart from them. */
export const pointShape = nullable(number({ least: -2000, most: 2000, whole: true }));
export type Point = number | null;

export const numbersOf = ({ points, from }: Points): number[] => Array.from({ length: points }, (_, at) => from + at);
export const isPoint = (question: Points, point: Point): boolean =>
  point === null
    ? question.apart !== undefined
    : point >= question.from && point < question.from + question.points && Number.isInteger(point);
/** What a point brings to a score. */
export const counted = ({ points, from }: Points, point: Point, isReversed: boolean): number | null =>
  point === null ? null : isReversed ? from + (from + points - 1) - point : point;
/** What is read at a point: its text where it has one, else its number. */
export const pointLabel = (question: Points, point: Point): string =>
  point === null ? (question.apart ?? "") : question.labels[point - question.from] || String(point);
export const pointLevels = (question: Points): Level[] =>
  numbersOf(question).map((value) => ({ value, label: pointLabel(question, value) }));

/** One line of several that are rated on the same points. */
const statementFields = object({
  id,
  /** The end of its column's name. */
  name: nameShape,
  text: title(1000),
  /** Counts in the other direction. */
  reversed: optional(yesNo),
});
export interface Statement extends Of<typeof statementFields> {}
export const statement: Shape<Statement> = statementFields;

export const ends = (count: number, first: string, last: string): string[] =>
  Array.from({ length: count }, (_, at) => (at === 0 ? first : at === count - 1 ? last : ""));
