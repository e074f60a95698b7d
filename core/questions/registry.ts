import { shapesOf, variant } from "../shape/compound";
import type { Of, Shape } from "../shape/shape";
import { agree } from "./agree/agree";
import { date } from "./date/date";
import type { QuestionKindOf } from "./kind";
import { line } from "./line/line";
import { longText } from "./long-text/long-text";
import { number } from "./number/number";
import { oneOfSeveral } from "./one-of/one-of";
import { ownCode } from "./own-code/own-code";
import { pairs } from "./pairs/pairs";
import { ranking } from "./ranking/ranking";
import { scale } from "./scale/scale";
import { severalOfMany } from "./several-of/several-of";
import { shares } from "./shares/shares";
import { shortText } from "./short-text/short-text";
import { statements } from "./statements/statements";
import { time } from "./time/time";

/** The kinds of questions, in the order in which they are offered. */
const kinds = {
  "one-of": oneOfSeveral,
  "several-of": severalOfMany,
  scale,
  statements,
  pairs,
  line,
  number,
  "short-text": shortText,
  "long-text": longText,
  date,
  time,
  ranking,
  shares,
  agree,
  "own-code": ownCode,
};

export type QuestionKind = keyof typeof kinds;
export const questionKinds = Object.keys(kinds) as QuestionKind[];
export const isQuestionKind = (word: string): word is QuestionKind => Object.hasOwn(kinds, word);
/** Something asked on a page. */
export type Question = Of<(typeof kinds)[QuestionKind]["shape"]>;
export type QuestionOf<K extends QuestionKind> = Extract<Question, { kind: K }>;
/** What an answer to a kind of question is. */
export type ValueOf<K extends QuestionKind> = Of<(typeof kinds)[K]["value"]>;

export const questionShapes = shapesOf(kinds);
export const questionShape = variant("kind", questionShapes);

/** What is known of a kind of question. */
export const questionKind = (kind: QuestionKind): QuestionKindOf<Question, unknown> =>
  kinds[kind] as unknown as QuestionKindOf<Question, unknown>;

/** The shapes of answers, by the question's kind. */
export const valueShapes = Object.fromEntries(
  Object.entries(kinds).map(([kind, { value }]) => [kind, value as Shape<unknown>]),
) as Record<QuestionKind, Shape<unknown>>;
