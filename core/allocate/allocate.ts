import type { StudyDocument } from "../design/document";
import { placeInGroup } from "./cells";
import { placesInBlocks } from "./methods/permuted-blocks";
import { methodOf } from "./methods/registry";
import { cellKey, type Place, type Start } from "./scheme";

/**
 * The place for a participant who starts now. Pure: given who counts, the same participant gets the same place. Cells are
 * filled evenly in proportion to the groups' shares; a place that was given back is given out before new ones.
 */
export function allocate(document: StudyDocument, start: Start): Place {
  const asked =
    start.group !== undefined && document.groups.some(({ id }) => id === start.group) ? start.group : undefined;
  return asked === undefined
    ? methodOf(document.allocation.method)(document, start)
    : placeInGroup(document, asked, start);
}

type Planned = { places: Place[]; next: Iterator<Place, never> };
const planned = new WeakMap<StudyDocument, Planned>();

/** The place a participant gets when everybody before has started and nobody breaks off; of the first stratum, where there are strata. */
export function plannedPlace(document: StudyDocument, participant: number): Place {
  const known = planned.get(document) ?? { places: [], next: plannedPlaces(document) };
  planned.set(document, known);
  while (known.places.length < participant) known.places.push(known.next.next().value);
  return known.places[participant - 1] as Place;
}

function* plannedPlaces(document: StudyDocument): Generator<Place, never> {
  const stratum = stratumName(document.allocation.strata.map(({ values }) => values[0] ?? ""));
  if (document.allocation.method === "permuted-blocks") yield* placesInBlocks(document, stratum);
  const counts = new Map<string, number>();
  for (let participant = 1; ; participant++) {
    const place = allocate(document, { participant, stratum, counts });
    counts.set(cellKey(place), (counts.get(cellKey(place)) ?? 0) + 1);
    yield place;
  }
}

/** A stratum by its values, in the order of the study's strata. */
export const stratumName = (values: readonly string[]): string => values.join(" · ");
