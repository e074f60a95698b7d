import type { Entry } from "../questions/entry";
import { oneFrom } from "../questions/kind";
import { questionKind, type Question } from "../questions/registry";
import type { Stream } from "../random/stream";
import { hasRight } from "../scores/score";

/** How simulated participants fill pages in. */
export type FormModel = {
  /** Share of questions left out, of those that may be. */
  skips: number;
  /** Share of questions with a right answer that are answered right, by the name of the group; `""` for any other. */
  knows: Record<string, number>;
  /** Answers to choose from, each equally likely, by the name of the question; any answer to others. */
  from?: Record<string, readonly unknown[]>;
};
export const plainForms: FormModel = { skips: 0.02, knows: { "": 0.65 } };

/** Tries at a right or wrong answer before any is taken. */
const tries = 40;

/** What a simulated participant answers to one question at a time; null where it is left out. */
export function simulatedEntry(
  question: Question,
  group: string,
  model: FormModel,
  at: number,
  stream: Stream,
): Entry | null {
  if (question.need !== "must" && stream.unit() < model.skips) return null;
  const kind = questionKind(question.kind);
  const usual = oneFrom(model.from?.[question.name] ?? [], stream);
  let value = usual === undefined ? kind.guess(question, stream) : usual;
  if (usual === undefined && hasRight(question)) {
    const isRight = stream.unit() < (model.knows[group] ?? model.knows[""] ?? 0.5);
    for (let count = 0; count < tries && kind.isRight?.(question, value) !== isRight; count++)
      value = kind.guess(question, stream);
  }
  return kind.problem(question, value) === null
    ? { question: question.id, value, ratherNot: false, first: at, last: at, changes: 0 }
    : null;
}
