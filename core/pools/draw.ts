import type { StudyDocument } from "../design/document";
import { keepLast } from "../random/keep-last";
import type { Id, Scalar } from "../values/ref";
import { Drawing, type DrawnFor, type Lacking } from "./drawing";
import { unionOf, type Placed } from "./placed";

export type { Lacking } from "./drawing";

/*
 * What is shown is drawn from pools for a whole session at once, so that no row comes twice within what is asked. Columns
 * that depend on what others drew come after those; all else of a pool is one matching of its rows with trials.
 */

/** What a trial takes from pools, by column; null where no row was left. */
export type Drawn = Readonly<Record<Id, Scalar | null>>;

/** A session's draws from pools, block by block. */
export type SessionDraws = { placed: ReadonlyMap<Id, Placed>; lacking: Lacking[] };

/** Draws anew so often where what was drawn first leaves too little for what depends on it. */
const tries = 30;

const sessions = new WeakMap<StudyDocument, ReturnType<typeof keepLast<SessionDraws>>>();

/** What a session draws from pools; kept for those asked for last. `earlier`: the seeds of the participant's sittings before, in their order. */
export function sessionDraws(document: StudyDocument, who: DrawnFor, earlier: readonly string[]): SessionDraws {
  const kept = sessions.get(document) ?? keepLast<SessionDraws>(12);
  sessions.set(document, kept);
  return kept(JSON.stringify([who.participant, who.seed, who.group, who.orders]), () => {
    const before = earlier.map((seed, index) => sessionDraws(document, { ...who, seed }, earlier.slice(0, index)));
    const usedBefore = unionOf(before.flatMap(({ placed }) => [...placed.values()]));
    return drawn(document, who, usedBefore);
  });
}

function drawn(document: StudyDocument, who: DrawnFor, usedBefore: Map<Id, Set<number>>): SessionDraws {
  let best: SessionDraws | null = null;
  for (let attempt = 0; attempt < tries; attempt++) {
    const found = new Drawing(document, who, usedBefore, attempt).whole();
    if (!best || found.lacking.length < best.lacking.length) best = found;
    // Only what depends on other draws can fare better another time.
    if (found.lacking.length === 0 || !found.depends) break;
  }
  return best as SessionDraws;
}

/** What a later attempt at a block takes: the rows of the first again as far as they fit, and none that another block has. */
export function attemptDraws(
  document: StudyDocument,
  who: DrawnFor,
  first: SessionDraws,
  block: Id,
  attempt: number,
): readonly Drawn[] | null {
  if (!first.placed.has(block)) return null;
  const drawing = new Drawing(document, who, new Map(), 0, { block, attempt, first });
  return drawing.whole().placed.get(block)?.values ?? null;
}
