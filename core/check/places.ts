import { isOfAnswer } from "../design/allocation";
import type { StudyDocument } from "../design/document";
import { questionIndex } from "../design/questions";
import { aboveLine, openingOf, wronglyAbove } from "../order/opening";
import { stratumInWords } from "../allocate/strata";
import { answerLevels } from "../design/answer-levels";
import { builtInOf, isBuiltInName } from "../values/built-ins";
import type { Id, Ref } from "../values/ref";
import { usesIn } from "../values/uses";
import type { Check, Finding } from "./finding";

/** What is wrong with where places are given, and with what they hang on. */
export const placeProblems: Check = (document) => [
  ...lineInBracket(document),
  ...wronglyAbove(document).map((node): Finding => {
    const name = node.kind === "part" ? (document.parts[node.part]?.name ?? node.part) : null;
    return {
      level: "error",
      where: name === null ? "the bracket above the line" : `“${name}”`,
      message:
        "Only pages that all groups have can come before places are given. Move it below the line “places are given here”, or the line above it.",
      target: node.kind === "part" ? { part: node.part } : {},
    };
  }),
  ...openingOf(document).flatMap((node) => {
    const page = document.parts[node.part];
    const used = usesIn([page, node.when ?? null]).filter(({ ref }) => isKnownBelowOnly(ref));
    const names = [...new Set(used.map(({ ref }) => nameOf(document, ref)))];
    return names.map((name): Finding => ({
      level: "error",
      where: `page “${page?.name ?? node.part}”`,
      message: `It uses “${name}”, which is not known before places are given. Move the page below that line, or remove the value from it.`,
      target: { part: node.part },
    }));
  }),
  ...strataProblems(document),
];

/** The line cannot stand between parts whose order varies. */
function lineInBracket(document: StudyDocument): Finding[] {
  const { after } = document.allocation;
  if (after === undefined || aboveLine(document).length > 0) return [];
  return [
    {
      level: "error",
      where: "who gets what",
      message: `Places are to be given after “${document.parts[after]?.name ?? after}”, which stands in a bracket. Choose another page there, or move it out of the bracket.`,
      target: { part: after },
    },
  ];
}

/** What a participant has only with their place: number, group, and the values of the group. */
const isKnownBelowOnly = (ref: Ref): boolean =>
  "groupValue" in ref || ("builtIn" in ref && isBuiltInName(ref.builtIn) && builtInOf(ref.builtIn).ofPlace === true);

const nameOf = (document: StudyDocument, ref: Ref): string =>
  "groupValue" in ref
    ? (document.groupValues.find(({ id }) => id === ref.groupValue)?.name ?? "a group value")
    : "builtIn" in ref
      ? ref.builtIn
      : "";

function strataProblems(document: StudyDocument): Finding[] {
  const where = "who gets what";
  const above = new Set<Id>(openingOf(document).map(({ part }) => part));
  return document.allocation.strata.flatMap((stratum): Finding[] => {
    if (!isOfAnswer(stratum)) return [];
    const name = stratumInWords(document, stratum);
    const error = (message: string): Finding => ({ level: "error", where, message, target: {} });
    const pages = pagesOf(document, stratum.from);
    if (pages.length === 0)
      return [error("Participants are divided by an answer or score that is gone. Choose another.")];
    if (!pages.every((page) => above.has(page)))
      return [
        error(
          `Participants are divided by “${name}”, which they tell only after places are given. Move the line “places are given here” below it.`,
        ),
      ];
    const isNumber = answerLevels(document, stratum.from) === null;
    return isNumber && (stratum.cuts ?? []).length === 0
      ? [
          error(
            `Participants are divided by “${name}”, but where is not said. Type the numbers at which a new level begins.`,
          ),
        ]
      : [];
  });
}

/** The pages on which a participant tells this. */
function pagesOf(document: StudyDocument, ref: Ref): Id[] {
  const pageOf = (question: Id) => questionIndex(document).get(question)?.page.id ?? [];
  if ("question" in ref) return [pageOf(ref.question)].flat();
  const score = "score" in ref ? document.scores.find(({ id }) => id === ref.score) : undefined;
  return [...new Set(score?.from.flatMap(({ question }) => pageOf(question)) ?? [])];
}
