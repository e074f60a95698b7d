import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { drawsIn } from "./tasks";
import type { Id } from "../values/ref";

/** The counterbalanced lists of a block: what they are known by among orders, and how many there are; 1 where none are asked for. */
export function listsOf(block: Block): { id: Id; lists: number } {
  const { rows } = block.table;
  const sizes = drawsIn(block).flatMap(({ own: { balanced } }) =>
    balanced === undefined
      ? []
      : [new Set(rows.filter(({ copies }) => copies > 0).map(({ cells }) => String(cells[balanced] ?? ""))).size],
  );
  return {
    id: `${block.id}-lists`,
    lists: sizes.reduce((lists, size) => leastCommonMultiple(lists, Math.max(1, size)), 1),
  };
}

const leastCommonMultiple = (a: number, b: number): number => (a / greatestCommonDivisor(a, b)) * b;
const greatestCommonDivisor = (a: number, b: number): number => (b === 0 ? a : greatestCommonDivisor(b, a % b));

/**
 * Which round of a block's lists a participant is in, from 0: within one, each group plays each list with the same rows, so that
 * these come equally often in each.
 */
export function roundOf({ groups }: StudyDocument, block: Block | undefined, participant: number): number {
  const lists = block ? listsOf(block).lists : 1;
  return Math.floor((participant - 1) / (lists === 1 ? 1 : lists * groups.length));
}
