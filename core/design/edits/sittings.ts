import type { Draft } from "immer";
import type { Id } from "../../values/ref";
import type { RunningNode } from "../running-order";
import type { Sitting } from "../sittings";
import { assign, type Edit } from "./edit";

/** Adds sittings at the end. */
export const addSittings =
  (...added: Sitting[]): Edit =>
  (draft) =>
    void draft.sittings.push(...added);

export const setSitting =
  (id: Id, change: Partial<Omit<Sitting, "id">>): Edit =>
  (draft) => {
    const found = draft.sittings.find((each) => each.id === id);
    if (found) assign(found, change);
  };

/** Removes a sitting. Parts that only it had would be left in none; they go to all, so that nothing is lost unseen. */
export const removeSitting =
  (id: Id): Edit =>
  (draft) => {
    draft.sittings = draft.sittings.filter((each) => each.id !== id);
    withoutSitting(draft.runningOrder, id);
  };

function withoutSitting(nodes: Draft<RunningNode>[], id: Id): void {
  for (const node of nodes) {
    if (node.kind === "bracket") withoutSitting(node.nodes, id);
    else if (node.onlySittings?.includes(id)) {
      const left = node.onlySittings.filter((each) => each !== id);
      assign(node, { onlySittings: left.length > 0 ? left : undefined });
    }
  }
}
