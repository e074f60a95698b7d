import { refuseTooLarge } from "../allocate/bounds";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Orders, PartsOf } from "../order/parts";
import { attemptDraws, sessionDraws } from "../pools/draw";
import { drawsIn } from "../pools/tasks";
import type { Id } from "../values/ref";
import { compileBlockWith, compileWith, outlineOf, type BlockTrials, type DrawPools, type Plan } from "./plan";
import { seedsBefore } from "../order/seed";

export type { BlockTrials, Plan, PlannedPart, PlannedTrial } from "./plan";

/** What the trials of a block take from the study's pools. */
export const drawPools: DrawPools = (document, who, block, attempt) => {
  if (drawsIn(block).length === 0) return null;
  const first = sessionDraws(document, who, seedsBefore(document, who.seed));
  return attempt === 1
    ? (first.placed.get(block.id)?.values ?? null)
    : attemptDraws(document, who, first, block.id, attempt);
};

/** The plan of one participant, with what is drawn from pools: see `compileWith`. Throws `TooLarge` before anything is built. */
export function compile(
  document: StudyDocument,
  participant: number,
  seed: string,
  group: Id,
  orders?: Orders,
  entered?: number,
): Plan {
  refuseTooLarge(document);
  return compileWith(drawPools, document, participant, seed, group, orders, entered);
}

/** The same of a block alone: see `compileBlockWith`. */
export function compileBlock(
  document: StudyDocument,
  block: Block,
  participant: number,
  seed: string,
  group: Id,
  orders?: Orders,
): BlockTrials | null {
  refuseTooLarge(document);
  return compileBlockWith(drawPools, document, block, participant, seed, group, orders);
}

/** The parts and the number of trials alone: see `outlineOf`. */
export function outline(document: StudyDocument, who: PartsOf): ReturnType<typeof outlineOf> {
  refuseTooLarge(document);
  return outlineOf(document, who);
}
