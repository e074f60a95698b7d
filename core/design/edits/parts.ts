import type { Draft } from "immer";
import { freeTitle } from "../../values/names";
import type { Block } from "../block";
import type { Id } from "../../values/ref";
import type { Page } from "../page";
import type { Part } from "../document";
import type { RunningNode } from "../running-order";
import type { TrialOrder } from "../trial-order";
import { assign, type Edit } from "./edit";
import { keepingLine, withoutEmpty } from "./running-order";

/** Puts a part into the running order behind another one, or at the end. */
export const addPart =
  (part: Part, behind: Id | null): Edit =>
  (draft) => {
    draft.parts[part.id] = part;
    const position = siblingsOf(draft.runningOrder, behind);
    const node: RunningNode = { kind: "part", part: part.id };
    if (position) position.siblings.splice(position.index + 1, 0, node);
    else draft.runningOrder.push(node);
  };

/** A copy with an id and a name of its own, behind the original. Inner ids stay: they are local to the part. */
export const copyPart =
  (id: Id, newId: Id): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (!part) return;
    const names = Object.values(draft.parts).map(({ name }) => name);
    const copy = {
      ...(JSON.parse(JSON.stringify(part)) as Part),
      id: newId,
      name: freeTitle(`${part.name} copy`, names),
    };
    if (copy.kind === "block") delete copy.sharesWith;
    addPart(copy, id)(draft);
  };

/** The same block once more: its trial and its table stay one with the original's, everything else is its own. */
export const sameBlockAgain =
  (id: Id, newId: Id): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind !== "block") return;
    const names = Object.values(draft.parts).map(({ name }) => name);
    const again = JSON.parse(JSON.stringify(part)) as Block;
    addPart(
      { ...again, id: newId, name: freeTitle(`${part.name} again`, names), sharesWith: part.sharesWith ?? id },
      id,
    )(draft);
  };

/** Makes a block independent of those it shares its trials with; they stay as they are. */
export const unshareBlock =
  (id: Id): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") delete part.sharesWith;
  };

export const removePart =
  (id: Id): Edit =>
  (draft) => {
    const position = siblingsOf(draft.runningOrder, id);
    keepingLine(draft, id, () => {
      position?.siblings.splice(position.index, 1);
      withoutEmpty(draft.runningOrder);
      delete draft.parts[id];
    });
    // Those that shared its trials go on sharing among themselves.
    const [heir, ...others] = Object.values(draft.parts).filter(
      (part) => part.kind === "block" && part.sharesWith === id,
    );
    if (heir?.kind === "block") delete heir.sharesWith;
    for (const other of others) if (heir && other.kind === "block") other.sharesWith = heir.id;
  };

export const setPart =
  (id: Id, change: Partial<Pick<Page, "name" | "notes">>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part) Object.assign(part, change);
  };

export const setPage =
  (
    id: Id,
    change: Partial<Pick<Page, "continueLabel" | "shows" | "back" | "time" | "progress" | "font" | "copy">>,
  ): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "page") assign(part, change);
  };

export const setBlock =
  (id: Id, change: Partial<Pick<Block, "practice" | "breaks" | "timedFrom">>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") assign(part, change);
  };

export const setOrder =
  (id: Id, change: Partial<TrialOrder>): Edit =>
  (draft) => {
    const part = draft.parts[id];
    if (part?.kind === "block") assign(part.order, change);
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
