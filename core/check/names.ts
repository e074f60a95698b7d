import { isBuiltInName } from "../values/built-ins";
import { pathInWords } from "../design/path-in-words";
import type { Ref } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { usesIn } from "../values/uses";
import { partNodes } from "../design/lookup";
import { questionById } from "../design/questions";
import { questionKind } from "../questions/registry";
import type { Check, Finding } from "./finding";

/** Bindings whose column, group value, variable or built-in name does not exist. */
export const namesThatAreGone: Check = (document) => [
  ...inParts(document),
  ...inConditions(document),
  ...inRules(document),
];

/** Conditions on which parts hang. They have no trial, so columns are not there for them. */
const inConditions = (document: StudyDocument): Finding[] =>
  partNodes(document.runningOrder).flatMap(({ part, when }) =>
    usesIn(when).flatMap(({ ref }) => {
      const gone = "column" in ref ? "It uses a column, which a part does not have." : missing(document, part, ref);
      const name = document.parts[part]?.name ?? part;
      return gone
        ? [
            {
              level: "error" as const,
              where: `“${name}”, played only if`,
              message: `${gone} Choose another value, or always.`,
              target: { part },
            },
          ]
        : [];
    }),
  );

/** What rules of the whole study use. */
const inRules = (document: StudyDocument): Finding[] =>
  usesIn(document.rules, "rules").flatMap(({ path, ref }) => {
    const gone = "column" in ref ? null : missing(document, "", ref);
    return gone
      ? [
          {
            level: "error" as const,
            where: pathInWords(document, path.replace(/\.(from|ref)$/, "")),
            message: `${gone} Choose another value.`,
            target: {},
          },
        ]
      : [];
  });

const inParts = (document: StudyDocument): Finding[] =>
  Object.entries(document.parts).flatMap(([id, part]) =>
    usesIn(part, `parts.${id}`).flatMap(({ path, ref }) => {
      const gone = missing(document, id, ref);
      if (!gone) return [];
      const [, scene, item] = /\.scenes\[(\d+)\](?:\.items\[(\d+)\])?/.exec(path) ?? [];
      const found = part.kind === "block" && scene !== undefined ? part.scenes[Number(scene)] : undefined;
      const target = {
        part: id,
        scene: found?.id,
        item: item === undefined ? undefined : found?.items[Number(item)]?.id,
      };
      return [
        {
          level: "error" as const,
          where: pathInWords(document, path.replace(/\.(from|ref)$/, "")),
          message: `${gone} Choose another value or write a constant.`,
          target,
        },
      ];
    }),
  );

function missing(document: StudyDocument, partId: string, ref: Ref): string | null {
  if ("builtIn" in ref)
    return isBuiltInName(ref.builtIn) ? null : `It uses “${ref.builtIn}”, which is no built-in name.`;
  if ("groupValue" in ref)
    return document.groupValues.some(({ id }) => id === ref.groupValue)
      ? null
      : "It uses a group value that has been removed.";
  if ("variable" in ref)
    return document.variables.some(({ id }) => id === ref.variable)
      ? null
      : "It uses a variable that has been removed.";
  if ("score" in ref)
    return document.scores.some(({ id }) => id === ref.score) ? null : "It uses a score that has been removed.";
  if ("question" in ref) return missingAnswer(document, ref);
  const part = document.parts[partId];
  if (part?.kind !== "block") return "It uses a column, but a page has no trial table.";
  return part.table.columns.some(({ id }) => id === ref.column) ? null : "It uses a column that has been removed.";
}

function missingAnswer(document: StudyDocument, { question: id, part }: { question: string; part?: string }) {
  const question = questionById(document)(id);
  if (!question) return "It uses the answer to a question that has been removed.";
  if (part === undefined) return null;
  const { parts, beside } = questionKind(question.kind);
  return [...(parts?.(question) ?? []), ...(beside?.(question) ?? [])].some((each) => each.id === part)
    ? null
    : `It uses a part of “${question.name}” that has been removed.`;
}
