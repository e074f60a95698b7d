import type { AnyMarker } from "../markers/marker";
import type { Id } from "../values/ref";
import { allRules, anyDoes } from "./all-rules";
import type { Block } from "./block";
import type { StudyDocument } from "./document";
import { blocksInOrder, itemsIn } from "./lookup";

/** A marker, and the block it stands in; none for those of the session. */
export type PlacedMarker = { marker: AnyMarker; block: Block | null };

/** All markers of a study: those of the session, then those of its blocks in their order. */
export const placedMarkers = (document: StudyDocument): PlacedMarker[] => [
  ...(document.markers ?? []).map((marker) => ({ marker, block: null })),
  ...blocksInOrder(document).flatMap((block) => (block.markers ?? []).map((marker) => ({ marker, block }))),
];

const hasMarkers = (document: StudyDocument): boolean =>
  (document.markers ?? []).length > 0 ||
  Object.values(document.parts).some((part) => part.kind === "block" && (part.markers ?? []).length > 0);

/** Whether anything of a study sends markers: its own ones, or rules. */
export const sendsMarkers = (document: StudyDocument): boolean =>
  hasMarkers(document) || anyDoes(allRules(document), "marker");

/** Where a marker stands, by its block; null for the session. */
export type MarkerPlace = Id | null;

/** Whether what a marker marks is gone from its block. */
export function marksNothing({ at }: Pick<AnyMarker, "at">, block: Block | null): boolean {
  if (at.on === "scene-begins") return !block?.scenes.some(({ id }) => id === at.scene);
  if (at.on === "item-begins") return !block || !itemsIn(block).some(({ id }) => id === at.item);
  return at.on === "answer" && !block?.answers.some(({ id }) => id === at.answer);
}
