import { list, object } from "../shape/compound";
import { number, oneOf, text, whole } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { questionKind, type Question } from "../questions/registry";
import type { AnswerState } from "../questions/entry";
import { nameShape } from "../values/names";
import { id, scalar, type Id, type Scalar } from "../values/ref";

const source = object({ question: id, part: optional(id) });
export type ScoreSource = Of<typeof source>;

const scoreFields = object({
  id,
  name: nameShape,
  of: oneOf("sum", "mean", "count-right", "share-right"),
  /** What it is made of: whole questions, or single statements and options of them. */
  from: list(source, 0, 2000),
  /** With fewer answers than this it stays empty. */
  atLeast: whole(1, 2000),
  /** What is reported instead of the raw value: that of the last line whose beginning it reaches. */
  reported: optional(list(object({ from: number(), value: scalar }), 1, 300)),
  notes: optional(text({ most: 5000 })),
});
/** A number made from answers by a stated rule. */
export interface Score extends Of<typeof scoreFields> {}
export const score: Shape<Score> = scoreFields;

/** How a question stands; one that was not asked (not drawn, not shown, not reached) has no outcome, or `not-shown`. */
export type AnswerOutcome = { state: AnswerState; value: unknown };
export type Outcomes = Readonly<Record<Id, AnswerOutcome | undefined>>;
export type QuestionById = (id: Id) => Question | undefined;

/** One thing a score counts, as far as it was asked: what it brings (null where it was not answered), and whether it was right. */
export type ScoredItem = { question: Id; part: Id | null; brings: number | null; isRight: boolean | null };

/** What a score is made of for one participant: everything that was asked of it, in its order. */
export function scoredItems({ from }: Pick<Score, "from">, questions: QuestionById, outcomes: Outcomes): ScoredItem[] {
  return from.flatMap(({ question: asked, part }): ScoredItem[] => {
    const question = questions(asked);
    const outcome = outcomes[asked];
    if (!question || !outcome || outcome.state === "not-shown") return [];
    const kind = questionKind(question.kind);
    const value = outcome.state === "answered" ? outcome.value : null;
    if (part === undefined && kind.score) {
      return [
        {
          question: asked,
          part: null,
          brings: value === null ? null : kind.score(question, value),
          isRight: value === null ? (hasRight(question) ? false : null) : (kind.isRight?.(question, value) ?? null),
        },
      ];
    }
    return (kind.parts?.(question) ?? []).flatMap(({ id, score: brings }) =>
      brings && (part === undefined || part === id)
        ? [{ question: asked, part: id, brings: value === null ? null : brings(value), isRight: null }]
        : [],
    );
  });
}

/** Whether one of a question's answers is right. */
export const hasRight = (question: Question): boolean =>
  ("right" in question && question.right !== undefined) ||
  ("options" in question && question.options.some(({ right }) => right === true));

/** Free of the rounding errors that depend on the order of adding. */
const rounded = (value: number): number => Number(value.toPrecision(12));

/**
 * A score's raw value; null where too few answers are there. Reversed answers are reversed first. Where answers are
 * missing, a sum is the mean of those there times the number of items that were asked; a question with a right answer
 * that was asked and not answered is not right.
 */
export function rawScore(score: Score, questions: QuestionById, outcomes: Outcomes): number | null {
  const items = scoredItems(score, questions, outcomes);
  if (score.of === "count-right" || score.of === "share-right") {
    const judged = items.filter(({ isRight }) => isRight !== null);
    if (judged.filter(({ brings }) => brings !== null).length < score.atLeast) return null;
    const right = judged.filter(({ isRight }) => isRight).length;
    return score.of === "count-right" ? right : rounded(right / judged.length);
  }
  const there = items.flatMap(({ brings }) => (brings === null ? [] : [brings]));
  if (there.length < score.atLeast || there.length === 0) return null;
  const mean = there.reduce((sum, each) => sum + each, 0) / there.length;
  return rounded(score.of === "mean" ? mean : mean * items.length);
}

/** What is reported of a score: its raw value, or what its table gives for it. */
export function reportedScore(score: Score, raw: number | null): Scalar | null {
  if (raw === null || !score.reported) return raw;
  const steps = [...score.reported].sort((a, b) => a.from - b.from);
  return steps.findLast(({ from }) => from <= raw)?.value ?? null;
}

export const scoresInWords: Record<Score["of"], string> = {
  sum: "sum",
  mean: "mean",
  "count-right": "number right",
  "share-right": "share right",
};
