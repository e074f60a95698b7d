import type { Id } from "../values/ref";
import type { AnswerPart, Flaw, Problem } from "./kind";
import { counted, isPoint, type Point } from "./points";

type Points = { points: number; from: number; labels: string[]; numbers: boolean; apart?: string | undefined };
type Line = { id: Id; name: string; reversed?: boolean | undefined };
type Rated = { each: Record<Id, Point> };

/** What is wrong with the points chosen for lines, of which each needs one. */
export function lineProblem(question: Points, lines: readonly Line[], each: Record<Id, Point>): Problem | null {
  const known = new Set(lines.map(({ id }) => id));
  const isOff = Object.entries(each).some(([id, point]) => !known.has(id) || !isPoint(question, point));
  if (isOff) return { words: "choosePlease" };
  const left = lines.filter(({ id }) => !Object.hasOwn(each, id)).length;
  return left > 0 ? { words: "linesLeft", values: { left }, isPartial: true } : null;
}

/** The column of one line. */
export const pointParts = (question: Points, line: Line, label: string): AnswerPart<Rated> => ({
  id: line.id,
  name: line.name,
  label,
  says: `the point chosen for “${label}”`,
  type: "number",
  read: ({ each }) => each[line.id] ?? null,
  score: ({ each }) => {
    const point = each[line.id];
    return point === undefined ? null : counted(question, point, line.reversed === true);
  },
});

export function flawsOfLines(lines: readonly Line[], what: string): Flaw[] {
  if (lines.length === 0) return [{ level: "error", message: `It has no ${what} yet. Add one.` }];
  const seen = new Set<string>();
  return lines.flatMap(({ name }): Flaw[] => {
    if (seen.has(name.toLowerCase()))
      return [{ level: "error", message: `Two lines have the name “${name}”. Give each its own.` }];
    seen.add(name.toLowerCase());
    return [];
  });
}
