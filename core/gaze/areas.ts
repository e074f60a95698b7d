import type { Fixation } from "./events";

type Point = { x: number; y: number };
/** The outline of an area of interest; `x` and `y` of a rectangle and an ellipse are its middle. */
export type Outline =
  | { kind: "rectangle" | "ellipse"; x: number; y: number; w: number; h: number }
  | { kind: "polygon"; points: readonly Point[] };
export type Area = { name: string; outline: Outline };

/** Whether a point lies within an outline, its edge included. */
export function contains(outline: Outline, { x, y }: Point): boolean {
  if (outline.kind === "polygon") return inPolygon(outline.points, x, y);
  const [across, up] = [Math.abs(x - outline.x) / (outline.w / 2), Math.abs(y - outline.y) / (outline.h / 2)];
  return outline.kind === "rectangle" ? across <= 1 && up <= 1 : across ** 2 + up ** 2 <= 1;
}

/** By the number of edges that a line to the right crosses (even–odd rule). */
function inPolygon(points: readonly Point[], x: number, y: number): boolean {
  let isIn = false;
  points.forEach((a, index) => {
    const b = points[(index + 1) % points.length] ?? a;
    if (a.y > y !== b.y > y && x < a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x)) isIn = !isIn;
  });
  return isIn;
}

/** What was looked at of one area, in milliseconds; null where it was not looked at. */
export type AreaMeasures = {
  area: string;
  /** From the beginning to its first fixation. */
  firstLook: number | null;
  /** How long its first fixation lasted. */
  firstFixation: number | null;
  /** All its fixations together. */
  dwell: number;
  fixations: number;
  /** Times it was come to from elsewhere. */
  visits: number;
  /** Of all the time in which the eye rested. */
  share: number;
};

export const elsewhere = "elsewhere";

/** The area a fixation lies in, by index: the first of those that overlap; as many as there are areas for elsewhere. */
const areaOf = (areas: readonly Area[], fixation: Fixation): number => {
  const found = areas.findIndex(({ outline }) => contains(outline, fixation));
  return found < 0 ? areas.length : found;
};

/** Measures of each area, and of what lies in none of them, over fixations in their order; `from` is when looking began. */
export function areaMeasures(areas: readonly Area[], fixations: readonly Fixation[], from: number): AreaMeasures[] {
  const measures = [...areas.map(({ name }) => name), elsewhere].map((area): AreaMeasures => ({
    ...{ area, firstLook: null, firstFixation: null, dwell: 0, fixations: 0, visits: 0, share: 0 },
  }));
  let before = -1;
  let total = 0;
  for (const fixation of fixations) {
    const at = areaOf(areas, fixation);
    const own = measures[at];
    const ms = fixation.to - fixation.from;
    total += ms;
    if (own) {
      own.firstLook ??= fixation.from - from;
      own.firstFixation ??= ms;
      own.dwell += ms;
      own.fixations++;
      if (at !== before) own.visits++;
    }
    before = at;
  }
  for (const each of measures) each.share = total === 0 ? 0 : each.dwell / total;
  return measures;
}

/** How often one area was followed by another: a row for each it was left from, elsewhere last; staying is no transition. */
export function transitions(areas: readonly Area[], fixations: readonly Fixation[]): number[][] {
  const counts = Array.from({ length: areas.length + 1 }, () => Array.from({ length: areas.length + 1 }, () => 0));
  const places = fixations.map((fixation) => areaOf(areas, fixation));
  places.slice(1).forEach((to, index) => {
    const row = counts[places[index] ?? -1];
    if (row && places[index] !== to) row[to] = (row[to] ?? 0) + 1;
  });
  return counts;
}
