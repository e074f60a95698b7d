import type { Id, StudyDocument } from "../design/types";
import { streamFor } from "../order/random";
import { shuffled } from "../order/shuffle";

/**
 * The groups in the order in which they are preferred for this participant: participants are taken in blocks as long
 * as there are groups, and within a block each group comes once, in an order drawn anew (permuted blocks).
 */
function preference(document: StudyDocument, participant: number, seed: string): Id[] {
  const groups = document.groups.map(({ id }) => id);
  const block = Math.floor((participant - 1) / groups.length);
  const order = shuffled(groups, streamFor(seed, "groups", block));
  const place = (participant - 1) % groups.length;
  return [...order.slice(place), ...order.slice(0, place)];
}

/** The group this participant gets when nobody breaks off. */
export function plannedGroup(document: StudyDocument, participant: number, seed: string = document.settings.seed): Id {
  return preference(document, participant, seed)[0] as Id;
}

/**
 * The group for a participant who starts now: one of those with the fewest sessions that count (finished or still
 * active), the planned one if it is among them. `counts` gives sessions per group; a group not listed has none.
 */
export function groupForStart(document: StudyDocument, participant: number, counts: ReadonlyMap<Id, number>): Id {
  const fewest = Math.min(...document.groups.map(({ id }) => counts.get(id) ?? 0));
  const order = preference(document, participant, document.settings.seed);
  return order.find((id) => (counts.get(id) ?? 0) === fewest) as Id;
}
