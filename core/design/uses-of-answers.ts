import type { Id, Ref } from "../values/ref";
import { usesIn } from "../values/uses";
import type { StudyDocument } from "./document";
import { pathInWords } from "./path-in-words";

const usesOf = (document: StudyDocument, isOf: (ref: Ref) => boolean): string[] => {
  const { parts, runningOrder, allocation, rules } = document;
  const found = usesIn({ parts, runningOrder, allocation, rules }).filter(({ ref }) => isOf(ref));
  return [...new Set(found.map(({ path }) => pathInWords(document, path.replace(/\.(?:from|ref)$/, ""))))];
};

/** Where the answer to a question is used, in words: texts, conditions, endings, scores. */
export const usesOfQuestion = (document: StudyDocument, id: Id): string[] => [
  ...usesOf(document, (ref) => "question" in ref && ref.question === id),
  ...document.scores.flatMap(({ name, from }) =>
    from.some(({ question }) => question === id) ? [`score “${name}”`] : [],
  ),
];

/** Where a score is used, in words. */
export const usesOfScore = (document: StudyDocument, id: Id): string[] =>
  usesOf(document, (ref) => "score" in ref && ref.score === id);
