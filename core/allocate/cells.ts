import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { keepLast } from "../random/keep-last";
import { streamFor } from "../random/stream";
import { shuffled } from "../random/shuffle";
import { cellKey, assignmentTo, schemeOf, type Assignment, type Start } from "./scheme";

/** The next assignment in a group: cells come in permuted blocks, those given back first. */
export function assignmentInGroup(document: StudyDocument, group: Id, { stratum, counts }: Start): Assignment {
  const scheme = schemeOf(document).find((each) => each.group === group) ?? schemeOf(document)[0];
  if (!scheme) return { group, orders: {} };
  const seen = new Map<number, number>();
  for (let nth = 0; ; nth++) {
    const cell = cellInGroup(document, group, scheme.cells, nth, stratum);
    const often = (seen.get(cell) ?? 0) + 1;
    seen.set(cell, often);
    const assignment = assignmentTo(scheme, cell);
    if ((counts.get(cellKey(assignment)) ?? 0) < often) return assignment;
  }
}

/** The cell of a group's nth participant (from 0): blocks as long as there are cells, each cell once in an order drawn for it. */
export function cellInGroup(document: StudyDocument, group: Id, cells: number, nth: number, stratum: string): number {
  if (cells === 1) return 0;
  const order = shuffledRange(cells, document.settings.seed, "orders", group, Math.floor(nth / cells), stratum);
  return order[nth % cells] as number;
}

const shuffledBefore = keepLast<number[]>(2000);
const shuffledRange = (size: number, ...key: (string | number)[]): number[] =>
  shuffledBefore([size, ...key].join("\u001f"), () =>
    shuffled(
      Array.from({ length: size }, (_, index) => index),
      streamFor(...key),
    ),
  );
