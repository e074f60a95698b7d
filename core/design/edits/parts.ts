import type { Draft } from "immer";
import { freeTitle } from "../names";
import type { Block, Id, Page, Part, RunningNode, TrialOrder } from "../types";
import type { Edit } from "./edit";

/** Puts a part into the running order behind another one, or at the end. */
export const addPart =
  (part: Part, behind: Id | null): Edit =>
  (draft) => {
    draft.parts[part.id] = part;
    const place = siblingsOf(draft.runningOrder, behind);
    const node: RunningNode = { kind: "part", part: part.id };
    if (place) place.siblings.splice(place.index + 1, 0, node);
    else draft.runningOrder.push(node);
  };

/** A copy with an id and a name of its own, behind the original. Inner ids stay: they are local to the part. */
export const copyPart =
  (id: Id, newId: Id): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (!part) return;
    const names = Object.values(draft.parts).map(({ name }) => name);
    const copy: Part = {
      ...(JSON.parse(JSON.stringify(part)) as Part),
      id: newId,
      name: freeTitle(`${part.name} copy`, names),
    };
    addPart(copy, id)(draft);
  };

export const removePart =
  (id: Id): Edit =>
  (draft) => {
    const place = siblingsOf(draft.runningOrder, id);
    place?.siblings.splice(place.index, 1);
    delete draft.parts[id];
  };

/** Moves a part to another place among its siblings, counted from 0. */
export const movePart =
  (id: Id, to: number): Edit =>
  (draft) => {
    const place = siblingsOf(draft.runningOrder, id);
    if (!place) return;
    const [node] = place.siblings.splice(place.index, 1);
    if (node) place.siblings.splice(Math.max(0, Math.min(to, place.siblings.length)), 0, node);
  };

export const setPart =
  (id: Id, change: Partial<Pick<Page, "name" | "notes">>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part) Object.assign(part, change);
  };

export const setPage =
  (id: Id, change: Partial<Pick<Page, "body" | "continueLabel">>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "page") Object.assign(part, change);
  };

export const setBlock =
  (id: Id, change: Partial<Pick<Block, "practice">>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") Object.assign(part, change);
  };

export const setOrder =
  (id: Id, change: Partial<TrialOrder>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") Object.assign(part.order, change);
  };

function siblingsOf(
  nodes: Draft<RunningNode>[],
  id: Id | null,
): { siblings: Draft<RunningNode>[]; index: number } | null {
  for (const [index, node] of nodes.entries()) {
    if (node.kind === "part" && node.part === id) return { siblings: nodes, index };
    const inside = node.kind === "bracket" ? siblingsOf(node.nodes, id) : null;
    if (inside) return inside;
  }
  return null;
}
