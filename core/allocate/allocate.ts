import type { StudyDocument } from "../design/types";
import { placeInGroup } from "./cells";
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

const planned = new WeakMap<StudyDocument, { places: Place[]; counts: Map<string, number> }>();

/** The place a participant gets when everybody before has started and nobody breaks off; of the first stratum, where there are strata. */
export function plannedPlace(document: StudyDocument, participant: number): Place {
  const known = planned.get(document) ?? { places: [], counts: new Map<string, number>() };
  planned.set(document, known);
  const stratum = stratumName(document.allocation.strata.map(({ values }) => values[0] ?? ""));
  while (known.places.length < participant) {
    const place = allocate(document, { participant: known.places.length + 1, stratum, counts: known.counts });
    known.places.push(place);
    known.counts.set(cellKey(place), (known.counts.get(cellKey(place)) ?? 0) + 1);
  }
  return known.places[participant - 1] as Place;
}

/** A stratum by its values, in the order of the study's strata. */
export const stratumName = (values: readonly string[]): string => values.join(" · ");
