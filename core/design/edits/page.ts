import type { Draft } from "immer";
import type { Question } from "../../questions/registry";
import type { Score } from "../../scores/score";
import { freeName } from "../../values/names";
import type { Id, NewId } from "../../values/ref";
import { namesEverywhere } from "../names-in-reach";
import { isQuestion, isSet } from "../questions";
import { same } from "../same";
import type { StudyDocument } from "../document";
import type { Ending, Page, Piece, QuestionSet } from "../page";
import { assign, type Edit } from "./edit";

const onPage =
  (page: Id, change: (page: Draft<Page>) => void): Edit =>
  (draft) => {
    const part = draft.parts[page];
    if (part?.kind === "page") change(part);
  };

/** Puts a piece into a page's flow behind another one, or at the end. */
export const addPiece = (page: Id, piece: Piece, behind: Id | null): Edit =>
  onPage(page, ({ flow }) => {
    const at = flow.findIndex(({ id }) => id === behind);
    flow.splice(at < 0 ? flow.length : at + 1, 0, piece);
  });

export const removePiece = (page: Id, piece: Id): Edit =>
  onPage(page, (draft) => {
    draft.flow = draft.flow.filter(({ id }) => id !== piece);
  });

/** Moves a piece so that it stands at this index of the flow. */
export const movePiece = (page: Id, piece: Id, to: number): Edit =>
  onPage(page, ({ flow }) => {
    const from = flow.findIndex(({ id }) => id === piece);
    const [moved] = from < 0 ? [] : flow.splice(from, 1);
    if (moved) flow.splice(Math.max(0, Math.min(flow.length, to)), 0, moved);
  });

/** Changes fields of a piece of the flow that is no question of a set; undefined ones are removed. */
export const setPiece = (page: Id, piece: Id, change: Partial<Piece>): Edit =>
  onPage(page, ({ flow }) => {
    const found = flow.find(({ id }) => id === piece);
    if (found) assign(found, change);
  });

/** Changes fields of a question, wherever on the page it stands. */
export const setQuestion = (page: Id, question: Id, change: object): Edit =>
  onPage(page, ({ flow }) => {
    for (const piece of flow) {
      const found =
        piece.id === question ? piece : isSet(piece) ? piece.questions.find(({ id }) => id === question) : null;
      if (found) return assign(found, change);
    }
  });

/** Puts another question in a question's place, as when its kind is changed. */
export const replaceQuestion = (page: Id, question: Id, by: Question): Edit =>
  onPage(page, ({ flow }) => {
    flow.forEach((piece, index) => {
      if (piece.id === question) flow[index] = by;
      if (isSet(piece)) piece.questions.forEach((each, at) => each.id === question && (piece.questions[at] = by));
    });
  });

export const removeFromSet = (page: Id, set: Id, question: Id): Edit =>
  onPage(page, ({ flow }) => {
    const found = flow.find(({ id }) => id === set);
    if (found && isSet(found)) found.questions = found.questions.filter(({ id }) => id !== question);
  });

/** Gives a page another flow, in which what is the same stays untouched, so that a keystroke is a small change. */
export const setFlow = (page: Id, flow: readonly Piece[]): Edit =>
  onPage(page, (draft) => {
    const isInPlace = flow.length === draft.flow.length && flow.every(({ id }, at) => draft.flow[at]?.id === id);
    if (!isInPlace) {
      const known = new Map((draft.flow as Piece[]).map((piece) => [piece.id, piece]));
      draft.flow = flow.map((piece) => {
        const before = known.get(piece.id);
        return before && same(before, piece) ? before : piece;
      });
      return;
    }
    flow.forEach((piece, at) => {
      const before = draft.flow[at] as Record<string, unknown>;
      for (const [field, value] of Object.entries(piece)) if (!same(before[field], value)) before[field] = value;
    });
  });

/** A copy with ids of its own inside, and names that are free in the study. */
export function copiedPiece<P extends Piece>(piece: P, document: StudyDocument, newId: NewId): P {
  const copy = JSON.parse(JSON.stringify(piece)) as P;
  const names = namesEverywhere(document, null);
  const renew = (question: Question) => {
    question.id = newId("question");
    question.name = freeName(question.name.replace(/_\d+$/, ""), names);
    names.push(question.name);
  };
  copy.id = newId(copy.kind === "text" ? "text" : isQuestion(copy) ? "question" : copy.kind);
  if (isQuestion(copy)) renew(copy);
  if (isSet(copy)) copy.questions.forEach(renew);
  return copy;
}

export const addEnding = (page: Id, ending: Ending): Edit => onPage(page, ({ endings }) => void endings.push(ending));
export const setEnding = (page: Id, ending: Id, change: Partial<Ending>): Edit =>
  onPage(page, ({ endings }) => {
    const found = endings.find(({ id }) => id === ending);
    if (found) assign(found, change);
  });
export const removeEnding = (page: Id, ending: Id): Edit =>
  onPage(page, (draft) => {
    draft.endings = draft.endings.filter(({ id }) => id !== ending);
  });

export const addScore =
  (score: Score): Edit =>
  (draft) =>
    void draft.scores.push(score);
export const setScore =
  (score: Id, change: Partial<Score>): Edit =>
  (draft) => {
    const found = draft.scores.find(({ id }) => id === score);
    if (found) assign(found, change);
  };
export const removeScore =
  (score: Id): Edit =>
  (draft) => {
    draft.scores = draft.scores.filter(({ id }) => id !== score);
  };

/** A set of questions of one list. */
export const newSet = (newId: NewId, name: string, questions: Question[]): QuestionSet => ({
  kind: "set",
  id: newId("set"),
  name,
  questions,
  order: "listed",
});
