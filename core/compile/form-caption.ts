import { partMinutes } from "./minutes";
import type { StudyDocument } from "../design/document";
import type { Page } from "../design/page";
import { isSet, pagesInOrder, questionsOf } from "../design/questions";

const counted = (count: number, one: string): string => `${count} ${count === 1 ? one : `${one}s`}`;

/** The caption of a page: forms are counted as figures are, and pages that only say something as pages. */
export function formCaption(document: StudyDocument, page: Page): { title: string; about: string } {
  const asks = (each: Page) => questionsOf(each).length > 0;
  const alike = pagesInOrder(document).filter((each) => asks(each) === asks(page));
  const number = alike.indexOf(page) + 1;
  const minutes = partMinutes(document, page.id);
  const time =
    minutes < 0.75
      ? `about ${Math.max(5, Math.round((minutes * 60) / 5) * 5)} seconds`
      : `about ${counted(Math.round(minutes), "minute")}`;
  if (!asks(page)) return { title: `Page ${number}.`, about: `Text to read, ${time}` };
  const asked = page.flow.reduce(
    (sum, piece) =>
      sum + (isSet(piece) ? Math.min(piece.take ?? Infinity, piece.questions.length) : "need" in piece ? 1 : 0),
    0,
  );
  const ids = new Set(questionsOf(page).map(({ id }) => id));
  const scores = document.scores.filter(({ from }) => from.some(({ question }) => ids.has(question))).length;
  return {
    title: `Form ${number}.`,
    about: [counted(asked, "question"), ...(scores > 0 ? [counted(scores, "score")] : []), time].join(", "),
  };
}
