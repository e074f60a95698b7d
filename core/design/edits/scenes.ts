import type { Draft } from "immer";
import { freeTitle } from "../../values/names";
import { marksNothing } from "../all-markers";
import type { AnswerSpec } from "../answer";
import type { Block } from "../block";
import type { Id } from "../../values/ref";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import { inBlock } from "./block";
import { assign, type Edit } from "./edit";
import { withIds } from "./with-ids";

/** Puts a scene behind another one, or at the end. */
export const addScene = (block: Id, scene: Scene, behind: Id | null): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === behind);
    scenes.splice(at < 0 ? scenes.length : at + 1, 0, scene);
  });

/** A copy with this id behind the original, with new ids for its items. */
export const copyScene = (block: Id, scene: Id, id: Id, newId: (prefix: string) => Id): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === scene);
    const original = scenes[at];
    if (!original) return;
    const copy = JSON.parse(JSON.stringify(original)) as Scene;
    copy.id = id;
    copy.name = freeTitle(
      original.name,
      scenes.map(({ name }) => name),
    );
    const items = new Map(copy.items.map((item) => [item.id, newId("item")]));
    copy.items = copy.items.map((item) => ({ ...item, id: items.get(item.id) as Id }));
    // Its rules speak of the copied items, and of the copy itself.
    if (copy.rules) {
      const ids = new Map([...items, [scene, id]]);
      copy.rules = copy.rules.map((rule) => ({ ...withIds(rule, ids), id: newId("rule") }));
    }
    scenes.splice(at + 1, 0, copy);
  });

/** Removes a scene. An answer window that opened or closed with it moves to the nearest scene left. */
export const removeScene = (block: Id, scene: Id): Edit =>
  inBlock(block, (draft) => {
    const at = draft.scenes.findIndex(({ id }) => id === scene);
    if (at < 0 || draft.scenes.length < 2) return;
    draft.scenes.splice(at, 1);
    const nearest = draft.scenes[Math.min(at, draft.scenes.length - 1)]?.id as Id;
    const before = draft.scenes[Math.max(0, at - 1)]?.id as Id;
    for (const answer of draft.answers) {
      const wasWhole = answer.opensWith === scene && answer.closesWith === scene;
      if (answer.opensWith === scene) answer.opensWith = nearest;
      if (answer.closesWith === scene) answer.closesWith = wasWhole ? nearest : before;
    }
    withoutLostMarkers(draft);
  });

/** Moves a scene to another index, counted from 0. */
export const moveScene = (block: Id, scene: Id, to: number): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === scene);
    const [moved] = at < 0 ? [] : scenes.splice(at, 1);
    if (moved) scenes.splice(Math.max(0, Math.min(to, scenes.length)), 0, moved);
  });

export const setScene = (
  block: Id,
  scene: Id,
  change: Partial<Pick<Scene, "name" | "lasts" | "when" | "notes">>,
): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene);
    if (found) assign(found, change);
  });

export const addItem = (block: Id, scene: Id, item: Item): Edit =>
  inBlock(block, ({ scenes }) => void scenes.find(({ id }) => id === scene)?.items.push(item));

export const removeItems = (block: Id, scene: Id, items: Id[]): Edit =>
  inBlock(block, (draft) => {
    const found = draft.scenes.find(({ id }) => id === scene);
    if (found) found.items = found.items.filter(({ id }) => !items.includes(id));
    withoutLostMarkers(draft);
  });

/** What marked something that is gone goes with it. */
function withoutLostMarkers(block: Draft<Block>): void {
  if (!block.markers) return;
  const left = block.markers.filter((marker) => !marksNothing(marker, block as Block));
  if (left.length < block.markers.length) assign(block, { markers: left.length > 0 ? left : undefined });
}

/** Changes properties of an item; nested ones (`at`, `size`) are given whole. */
export const setItem = (block: Id, scene: Id, item: Id, change: Record<string, unknown>): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene)?.items.find(({ id }) => id === item);
    if (found) assign(found, change);
  });

/** Copies of items behind the originals in the layer order, shifted a little, with ids and names of their own. */
export const copyItems = (block: Id, scene: Id, items: Id[], newIds: Id[]): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene);
    if (!found) return;
    items.forEach((item, index) => {
      const original = found.items.find(({ id }) => id === item);
      const id = newIds[index];
      if (!original || !id) return;
      const copy = JSON.parse(JSON.stringify(original)) as Item;
      const names = found.items.map(({ name }) => name);
      found.items.push({ ...shifted(copy, 3), id, name: freeTitle(original.name, names) });
    });
  });

/** An item a little to the lower right, if its position is a constant. */
export const shifted = (item: Item, by: number): Item =>
  "at" in item
    ? {
        ...item,
        at: {
          x: typeof item.at.x === "number" ? item.at.x + by : item.at.x,
          y: typeof item.at.y === "number" ? item.at.y - by : item.at.y,
        },
      }
    : item;

/** Moves items in the layer order: one step to the front or back, or all the way. */
export const layerItems = (block: Id, scene: Id, items: Id[], to: "forward" | "back" | "front" | "bottom"): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene);
    if (!found) return;
    const isMoved = (item: { id: Id }) => items.includes(item.id);
    if (to === "front" || to === "bottom") {
      const [moved, others] = [found.items.filter(isMoved), found.items.filter((item) => !isMoved(item))];
      found.items = to === "front" ? [...others, ...moved] : [...moved, ...others];
      return;
    }
    const order = [...found.items];
    const step = to === "forward" ? -1 : 1;
    // From the end they move towards, so that neighbours move together.
    for (let at = to === "forward" ? order.length - 1 : 0; at >= 0 && at < order.length; at += step) {
      const [here, next] = [order[at], order[at - step]];
      if (here && next && isMoved(here) && !isMoved(next)) [order[at], order[at - step]] = [next, here];
    }
    found.items = order;
  });

export const addAnswer = (block: Id, answer: AnswerSpec): Edit =>
  inBlock(block, ({ answers }) => void answers.push(answer));

/** Changes an answer; a property given as undefined is taken away. */
export const setAnswer = (block: Id, answer: Id, change: Partial<AnswerSpec>): Edit =>
  inBlock(block, ({ answers }) => {
    const found = answers.find(({ id }) => id === answer);
    if (found) assign(found, change);
  });

export const removeAnswer = (block: Id, answer: Id): Edit =>
  inBlock(block, (draft) => {
    draft.answers = draft.answers.filter(({ id }) => id !== answer);
    withoutLostMarkers(draft);
  });
