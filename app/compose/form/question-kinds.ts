import type { LucideIcon } from "lucide-react";
import type { ReactNode } from "react";
import { byFileName } from "~/player/by-file-name";
import { questionKinds, type Question, type QuestionKind, type QuestionOf } from "~/core/questions/registry";

/** How a kind of question is offered, and what the margin asks of it. */
export type QuestionSettings<K extends QuestionKind> = {
  icon: LucideIcon;
  /** Its answers in few signs, for the card among the text. */
  Sketch: (props: { question: QuestionOf<K> }) => ReactNode;
  Fields: (props: {
    question: QuestionOf<K>;
    /** Changes the question; changes with the same word shortly after each other are one step of undo. */
    set: (change: Partial<QuestionOf<K>>, merge?: string) => void;
  }) => ReactNode;
};

/** Each kind's settings stand in the file of its name; nothing else registers them. */
const settings = byFileName<QuestionKind, QuestionSettings<QuestionKind>>(
  import.meta.glob("../questions/*.tsx", { eager: true, import: "settings" }),
  questionKinds,
);

export const questionSettings = (
  kind: QuestionKind,
): {
  icon: LucideIcon;
  Sketch: (props: { question: Question }) => ReactNode;
  Fields: (props: { question: Question; set: (change: Partial<Question>, merge?: string) => void }) => ReactNode;
} => settings[kind] as never;
