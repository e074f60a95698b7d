import type { Level } from "../questions/kind";
import { questionKind } from "../questions/registry";
import type { Ref } from "../values/ref";
import type { StudyDocument } from "./document";
import { questionById } from "./questions";

const ticked: Level[] = [
  { value: true, label: "ticked" },
  { value: false, label: "not ticked" },
];

/** The values an answer can have, in words; null where they cannot be listed, and of anything that is no answer. */
export function answerLevels(document: StudyDocument, ref: Ref): Level[] | null {
  if (!("question" in ref)) return null;
  const question = questionById(document)(ref.question);
  if (!question) return null;
  const { type, levels, parts, beside } = questionKind(question.kind);
  if (ref.part === undefined) return levels?.(question) ?? (type(question) === "yes/no" ? ticked : null);
  const part = [...(parts?.(question) ?? []), ...(beside?.(question) ?? [])].find(({ id }) => id === ref.part);
  return part?.levels ?? (part?.type === "yes/no" ? ticked : null);
}
