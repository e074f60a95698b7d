import type { QuestionDrawer } from "../drawer";
import { drawRated, linesInOrder } from "../rated";

export const draw: QuestionDrawer<"statements"> = (asking) => {
  const { question, order, value, answer } = asking;
  const lines = linesInOrder(question.statements, order).map(({ id, text }) => ({ id, before: text }));
  return drawRated(asking, question, lines, value?.each ?? null, (each) => answer(each && { each }), true);
};
