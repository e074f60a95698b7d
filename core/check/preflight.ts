import { excessesOf } from "../allocate/bounds";
import type { StudyDocument } from "../design/document";
import type { Check, Finding } from "./finding";
import { partsInOrder } from "../design/lookup";
import { namesThatAreGone } from "./names";
import { answerProblems } from "./answers";
import { sceneProblems } from "./scenes";
import { tableProblems } from "./tables";
import { flashes } from "./flashes";
import { formProblems } from "./forms";
import { placeProblems } from "./places";
import { bracketProblems } from "./brackets";
import { exportNames } from "./export-names";
import { followingProblems } from "./following";
import { criterionProblems, ruleProblems } from "./rules";
import { gazeProblems } from "./gaze";
import { markerProblems } from "./markers";
import { orderProblems } from "./orders";
import { poolProblems } from "./pools";
import { participationProblems } from "./participation";

const somethingToRun: Check = (document) =>
  partsInOrder(document).length > 0
    ? []
    : [
        {
          level: "error",
          where: "the study",
          message: "It has no parts, so there is nothing to take part in. Add a page or a block in Plan.",
          target: {},
        },
      ];

const sizes: Check = (document) =>
  excessesOf(document).map(({ where, message, part }) => ({ level: "error", where, message, target: { part } }));

const checks: Check[] = [
  somethingToRun,
  tableProblems,
  sceneProblems,
  answerProblems,
  namesThatAreGone,
  orderProblems,
  poolProblems,
  bracketProblems,
  participationProblems,
  placeProblems,
  formProblems,
  flashes,
  exportNames,
  ruleProblems,
  criterionProblems,
  followingProblems,
  markerProblems,
  gazeProblems,
];

/** Problems and warnings in a design, errors first. A faulty cell is reported once, however many items use it. */
export function preflight(document: StudyDocument): Finding[] {
  const rank = { error: 0, warning: 1, note: 2 };
  const cells = new Set<string>();
  // What is too large to be played is too large to be judged further.
  const tooLarge = sizes(document);
  if (tooLarge.length > 0) return tooLarge;
  return checks
    .flatMap((check) => check(document))
    .filter(({ target: { part, column, row } }) => {
      if (!column || !row) return true;
      const cell = `${part} ${column} ${row}`;
      return !cells.has(cell) && cells.add(cell);
    })
    .sort((a, b) => rank[a.level] - rank[b.level]);
}

export const hasErrors = (findings: Finding[]): boolean => findings.some(({ level }) => level === "error");
