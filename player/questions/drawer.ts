import type { ValueOf, QuestionKind, QuestionOf } from "~/core/questions/registry";
import type { Id } from "~/core/values/ref";

/** What one question is drawn from, and how it tells what is done with it. */
export type Asking<K extends QuestionKind> = {
  question: QuestionOf<K>;
  /** Its options or lines in the order in which they are shown, where that was drawn. */
  order: Id[] | null;
  /** The answer as it stands; null for none. */
  value: ValueOf<K> | null;
  /** What was typed and is no answer yet. */
  typed: string;
  /** Ids of the elements that name and explain it. */
  labelledBy: string;
  describedBy: string;
  /** The answer is this now; null where it is none, with what was typed. */
  answer: (value: ValueOf<K> | null, typed?: string) => void;
  mediaUrl: (id: Id) => string | null;
  /** A name for groups of inputs that no other question has. */
  groupName: string;
};

/** One question as it is shown. */
export type DrawnQuestion = {
  element: HTMLElement;
  /** What gets the focus when the question is brought into view. */
  focus: () => void;
  /** Takes the answer away again, as when one would rather not say. */
  clear: () => void;
};

export type QuestionDrawer<K extends QuestionKind> = (asking: Asking<K>) => DrawnQuestion;
