import type { QuestionDrawer } from "../drawer";
import { drawRated, linesInOrder } from "../rated";

export const draw: QuestionDrawer<"pairs"> = (asking) => {
  const { question, order, value, answer } = asking;
  const lines = linesInOrder(question.pairs, order).map(({ id, left, right }) => ({ id, before: left, after: right }));
  return drawRated(asking, question, lines, value?.each ?? null, (each) => answer(each && { each }), false);
};
