import type { StudyDocument } from "../design/types";
import { partsInOrder } from "../design/lookup";
import { namesThatAreGone } from "./names";
import { answerProblems } from "./answers";
import { sceneProblems } from "./scenes";
import { tableProblems } from "./tables";
import { notYet } from "./not-yet";

export type Place = {
  part?: string | undefined;
  scene?: string | undefined;
  item?: string | undefined;
  column?: string | undefined;
  row?: string | undefined;
};
/** Errors keep a study from being released, warnings ask for a look, notes only tell. */
export type Finding = { level: "error" | "warning" | "note"; where: string; message: string; place: Place };

/** A check looks at a whole document and lists what it finds. Register a new one in `checks`. */
export type Check = (document: StudyDocument) => Finding[];

const somethingToRun: Check = (document) =>
  partsInOrder(document).length > 0
    ? []
    : [
        {
          level: "error",
          where: "the study",
          message: "It has no parts, so there is nothing to take part in. Add a page or a block in Plan.",
          place: {},
        },
      ];

const checks: Check[] = [somethingToRun, tableProblems, sceneProblems, answerProblems, namesThatAreGone, notYet];

/** Problems and warnings in a design, errors first. What one cell does wrong is told once, however many items use it. */
export function preflight(document: StudyDocument): Finding[] {
  const rank = { error: 0, warning: 1, note: 2 };
  const cells = new Set<string>();
  return checks
    .flatMap((check) => check(document))
    .filter(({ place: { part, column, row } }) => {
      if (!column || !row) return true;
      const cell = `${part} ${column} ${row}`;
      return !cells.has(cell) && cells.add(cell);
    })
    .sort((a, b) => rank[a.level] - rank[b.level]);
}

export const hasErrors = (findings: Finding[]): boolean => findings.some(({ level }) => level === "error");
