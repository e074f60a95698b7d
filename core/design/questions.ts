import { isQuestionKind, type Question } from "../questions/registry";
import type { QuestionById } from "../scores/score";
import type { Id } from "../values/ref";
import type { StudyDocument } from "./document";
import { partsInOrder } from "./lookup";
import type { Page, Piece, QuestionSet } from "./page";

export const isQuestion = (piece: Piece): piece is Question => isQuestionKind(piece.kind);
export const isSet = (piece: Piece): piece is QuestionSet => piece.kind === "set";

const ofPages = new WeakMap<Page, readonly Question[]>();

/** All questions of a page, those of its sets included, in the order of the document. */
export function questionsOf(page: Page): readonly Question[] {
  const known = ofPages.get(page);
  if (known) return known;
  const found = page.flow.flatMap((piece) => (isQuestion(piece) ? [piece] : isSet(piece) ? piece.questions : []));
  ofPages.set(page, found);
  return found;
}

export const pagesInOrder = (document: StudyDocument): Page[] =>
  partsInOrder(document).filter((part): part is Page => part.kind === "page");

export type PlacedQuestion = { page: Page; question: Question };
const ofDocuments = new WeakMap<StudyDocument["parts"], ReadonlyMap<Id, PlacedQuestion>>();

/** Every question of a study by its id, with the page it is on. */
export function questionIndex(document: Pick<StudyDocument, "parts">): ReadonlyMap<Id, PlacedQuestion> {
  const known = ofDocuments.get(document.parts);
  if (known) return known;
  const found = new Map<Id, PlacedQuestion>();
  for (const page of Object.values(document.parts))
    if (page.kind === "page") for (const question of questionsOf(page)) found.set(question.id, { page, question });
  ofDocuments.set(document.parts, found);
  return found;
}

/** Looks questions of a study up. */
export const questionById =
  (document: Pick<StudyDocument, "parts">): QuestionById =>
  (id) =>
    questionIndex(document).get(id)?.question;

/** All questions in the order of the document's parts. */
export const questionsInOrder = (document: StudyDocument): PlacedQuestion[] =>
  pagesInOrder(document).flatMap((page) => questionsOf(page).map((question) => ({ page, question })));
