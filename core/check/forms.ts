import { pagesInOrder, questionIndex, questionsOf, isSet } from "../design/questions";
import type { Page } from "../design/page";
import type { StudyDocument } from "../design/document";
import { mediaKind } from "../media/types";
import { fileOf } from "../passages/passage";
import { questionKind } from "../questions/registry";
import { hasRight } from "../scores/score";
import { usesIn } from "../values/uses";
import type { Check, Finding } from "./finding";

/** All a page's answers together have to fit into one record that is sent at once. */
const mostCharacters = 3_000_000;

/** What is wrong or risky about pages that ask, and about scores. */
export const formProblems: Check = (document) => [
  ...pagesInOrder(document).flatMap((page) => [
    ...ofQuestions(document, page),
    ...ofPassages(document, page),
    ...ofPage(document, page),
  ]),
  ...ofScores(document),
];

function ofQuestions(document: StudyDocument, page: Page): Finding[] {
  const asked = new Set<string>();
  return questionsOf(page).flatMap((question): Finding[] => {
    const at = {
      where: `page “${page.name}”, question “${question.name}”`,
      target: { part: page.id, piece: question.id },
    };
    const kind = questionKind(question.kind);
    const later = usesIn(question.when ?? null).filter(
      ({ ref }) =>
        "question" in ref && questionsOf(page).some(({ id }) => id === ref.question) && !asked.has(ref.question),
    );
    asked.add(question.id);
    return [
      ...(kind.flaws?.(question) ?? []).map(({ level, message }) => ({ level, message, ...at })),
      ...(kind.files?.(question) ?? []).flatMap(({ file, kind: wanted, what }) =>
        fileProblem(document, file, wanted, what).map((message) => ({ level: "error" as const, message, ...at })),
      ),
      ...(later.length > 0
        ? [
            {
              level: "error" as const,
              message: "It is shown by the answer to a question that comes after it. Choose one before it.",
              ...at,
            },
          ]
        : []),
    ];
  });
}

function ofPassages(document: StudyDocument, page: Page): Finding[] {
  return page.flow.flatMap((piece): Finding[] => {
    const at = { where: `page “${page.name}”`, target: { part: page.id, piece: piece.id } };
    const file = fileOf(piece as Parameters<typeof fileOf>[0]);
    if (file)
      return fileProblem(document, file.file, file.kind, `the ${file.kind}`).map((message) => ({
        level: "error",
        message,
        ...at,
      }));
    if (piece.kind === "site")
      return [
        {
          level: "warning",
          message: `The page at ${piece.address} needs the network while participants look at it, and that site learns their internet address.${piece.address.startsWith("http:") ? " Browsers do not show pages that come unencrypted within one that is encrypted." : ""}`,
          ...at,
        },
      ];
    if (isSet(piece) && piece.questions.length === 0)
      return [{ level: "error", message: `The list “${piece.name}” has no questions. Add some, or remove it.`, ...at }];
    if (isSet(piece) && piece.take !== undefined && piece.take > piece.questions.length)
      return [
        {
          level: "warning",
          message: `${piece.take} questions are to be drawn of the ${piece.questions.length} in “${piece.name}”: all are asked.`,
          ...at,
        },
      ];
    return [];
  });
}

function fileProblem(document: StudyDocument, file: string, kind: string, what: string): string[] {
  const found = document.media.find(({ id }) => id === file);
  if (!found) return [`No file is chosen for ${what}. Choose one in its settings.`];
  return mediaKind(found.mime) === kind ? [] : [`“${found.name}” is no ${kind}. Choose another file for ${what}.`];
}

function ofPage(document: StudyDocument, page: Page): Finding[] {
  const at = { where: `page “${page.name}”`, target: { part: page.id } };
  const findings: Finding[] = [];
  const { time } = page;
  if (time?.least !== undefined && time.most !== undefined && time.least >= time.most)
    findings.push({
      level: "error",
      message: "Its shortest time is not shorter than its longest. Change one of them.",
      ...at,
    });
  if (time?.warns !== undefined && time.most !== undefined && time.warns >= time.most)
    findings.push({ level: "warning", message: "The warning of its end comes as soon as the page does.", ...at });
  const characters = questionsOf(page).reduce(
    (sum, question) =>
      sum + (question.kind === "long-text" ? (question.most ?? 20_000) : question.kind === "short-text" ? 4000 : 500),
    0,
  );
  if (characters > mostCharacters)
    findings.push({
      level: "error",
      message: "Its answers together can be longer than is sent at once. Divide it into several pages.",
      ...at,
    });
  for (const { as, when } of page.endings)
    if (!usesIn(when).some(({ ref }) => "question" in ref || "score" in ref || "groupValue" in ref || "builtIn" in ref))
      findings.push({
        level: "warning",
        message: `Whether the session ends here as ${as} hangs on nothing. Choose what it hangs on.`,
        ...at,
      });
  const names = new Set(questionsOf(page).map(({ id }) => id));
  const isOnLater = usesIn([page.endings]).some(
    ({ ref }) => "question" in ref && !names.has(ref.question) && comesAfter(document, page, ref.question),
  );
  if (isOnLater)
    findings.push({
      level: "error",
      message: "It ends the session by an answer that is given only later. Choose one from before.",
      ...at,
    });
  return findings;
}

function comesAfter(document: StudyDocument, page: Page, question: string): boolean {
  const order = pagesInOrder(document);
  const found = questionIndex(document).get(question);
  return found !== undefined && order.indexOf(found.page) > order.indexOf(page);
}

const ofScores = (document: StudyDocument): Finding[] =>
  document.scores.flatMap((score): Finding[] => {
    const at = { where: `score “${score.name}”`, target: {} };
    const questions = score.from.map(({ question }) => questionIndex(document).get(question)?.question);
    if (questions.length === 0)
      return [{ level: "warning", message: "It is made of nothing yet. Choose its questions.", ...at }];
    if (questions.includes(undefined))
      return [
        { level: "error", message: "It counts a question that has been removed. Take it out of the score.", ...at },
      ];
    const isOfRight = score.of === "count-right" || score.of === "share-right";
    if (isOfRight && questions.some((question) => question && !hasRight(question)))
      return [{ level: "warning", message: "It counts right answers, and one of its questions has none.", ...at }];
    return [];
  });
