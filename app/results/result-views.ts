import type { ComponentType } from "react";
import type { AnswerOf, QuestionOf, ResultName } from "~/server/results/registry";

/** What changes in the address, by name; a list stands for several of one name, and nothing for none. */
export type Change = Record<string, string | string[]>;

/** How a result is shown. `ask` changes the address, and with it the question. */
export type ResultView<Name extends ResultName> = ComponentType<{
  question: QuestionOf<Name>;
  answer: AnswerOf<Name>;
  ask: (change: Change) => void;
}>;
type AnyView = ComponentType<{ question: unknown; answer: unknown; ask: (change: Change) => void }>;

const views = import.meta.glob("./views/*.tsx", { eager: true, import: "View" });

/** The view of a result stands in the file of its name; nothing else registers it. */
export const viewOf = (name: ResultName): AnyView => {
  const view = views[`./views/${name}.tsx`];
  if (!view) throw new Error(`No view of ${name}`);
  return view as AnyView;
};
