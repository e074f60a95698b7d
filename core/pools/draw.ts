import type { StudyDocument } from "../design/document";
import { keepLast } from "../random/keep-last";
import type { Id, Scalar } from "../values/ref";
import type { Seeded } from "../order/place";
import { Drawing, type Lacking } from "./drawing";
import { unionOf, type Placed } from "./placed";
import { drawsIn } from "./tasks";

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

/**
 * What a session draws from pools; kept for those asked for last. `earlier`: the seeds of the participant's sittings before, in
 * their order; they are drawn too where a row is not to come again over sittings.
 */
export function sessionDraws(document: StudyDocument, who: Seeded, earlier: readonly string[]): SessionDraws {
  const kept = sessions.get(document) ?? keepLast<SessionDraws>(12);
  sessions.set(document, kept);
  return kept(JSON.stringify([who.participant, who.seed, who.group, who.orders]), () => {
    const used: Placed[] = [];
    for (const seed of reachesOverSittings(document) ? earlier : [])
      used.push(...drawn(document, { ...who, seed }, unionOf(used)).placed.values());
    return drawn(document, who, unionOf(used));
  });
}

const reachesOverSittings = ({ parts }: StudyDocument): boolean =>
  Object.values(parts).some(
    (part) => part.kind === "block" && drawsIn(part).some(({ own }) => own.once === "sittings"),
  );

function drawn(document: StudyDocument, who: Seeded, usedBefore: Map<Id, Set<number>>): SessionDraws {
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
  who: Seeded,
  first: SessionDraws,
  block: Id,
  attempt: number,
): readonly Drawn[] | null {
  if (!first.placed.has(block)) return null;
  const drawing = new Drawing(document, who, new Map(), 0, { block, attempt, first });
  return drawing.whole().placed.get(block)?.values ?? null;
}
