import { toast } from "sonner";
import type { EditProblem } from "~/core/design/edits/edit-problem";

let listener: ((problem: EditProblem) => void) | null = null;

const sentence = (words: string) => `${words.replace(/^./, (letter) => letter.toUpperCase())}.`;

/** Tells that an edit was refused: the field that is typed into where one listens, everyone else in passing. */
export function tellRefused(problem: EditProblem): void {
  if (listener) listener(problem);
  else toast.error(sentence(`${problem.where ? `${problem.where} ` : ""}${problem.message}`));
}

/** What refuses the edits that `work` makes at once, as a sentence for beside the field; null where nothing does. */
export function refusalOf(work: () => void): string | null {
  let found: string | null = null;
  const before = listener;
  listener = ({ message }) => (found ??= sentence(message));
  try {
    work();
  } finally {
    listener = before;
  }
  return found;
}
