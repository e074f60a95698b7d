import type { Draft } from "immer";
import type { AnyMarker } from "../../markers/marker";
import type { Id } from "../../values/ref";
import type { MarkerPlace } from "../all-markers";
import type { StudyDocument } from "../document";
import { assign, type Edit } from "./edit";

/** Changes the markers of a block, or of the session; the list is gone where nothing is left in it. */
const withMarkers =
  (place: MarkerPlace, change: (markers: AnyMarker[]) => AnyMarker[]): Edit =>
  (draft) => {
    const part = place === null ? draft : draft.parts[place];
    if (!part || ("kind" in part && part.kind !== "block")) return;
    const holder = part as Draft<Pick<StudyDocument, "markers">>;
    const next = change((holder.markers ?? []) as AnyMarker[]) as typeof holder.markers;
    assign(holder, { markers: next && next.length > 0 ? next : undefined });
  };

/** Adds a marker to a block, or to the session. */
export const addMarker = (place: MarkerPlace, marker: AnyMarker): Edit =>
  withMarkers(place, (markers) => [...markers, marker]);

export const setMarker = (place: MarkerPlace, id: Id, change: Partial<Pick<AnyMarker, "name" | "value">>): Edit =>
  withMarkers(place, (markers) => markers.map((each) => (each.id === id ? { ...each, ...change } : each)));

export const removeMarker = (place: MarkerPlace, id: Id): Edit =>
  withMarkers(place, (markers) => markers.filter((each) => each.id !== id));
