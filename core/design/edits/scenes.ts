import { freeTitle } from "../names";
import type { AnswerSpec, Id, Item, Scene } from "../types";
import { inBlock } from "./block";
import { assign, type Edit } from "./edit";

/** Puts a scene behind another one, or at the end. */
export const addScene = (block: Id, scene: Scene, behind: Id | null): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === behind);
    scenes.splice(at < 0 ? scenes.length : at + 1, 0, scene);
  });

/** A copy behind the original, with new ids for itself and its items. */
export const copyScene = (block: Id, scene: Id, newId: (prefix: string) => Id): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === scene);
    const original = scenes[at];
    if (!original) return;
    const copy = JSON.parse(JSON.stringify(original)) as Scene;
    copy.id = newId("scene");
    copy.name = freeTitle(
      original.name,
      scenes.map(({ name }) => name),
    );
    copy.items = copy.items.map((item) => ({ ...item, id: newId("item") }));
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
  });

/** Moves a scene to another place, counted from 0. */
export const moveScene = (block: Id, scene: Id, to: number): Edit =>
  inBlock(block, ({ scenes }) => {
    const at = scenes.findIndex(({ id }) => id === scene);
    const [moved] = at < 0 ? [] : scenes.splice(at, 1);
    if (moved) scenes.splice(Math.max(0, Math.min(to, scenes.length)), 0, moved);
  });

export const setScene = (block: Id, scene: Id, change: Partial<Pick<Scene, "name" | "lasts" | "when">>): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene);
    if (found) assign(found, change);
  });

export const addItem = (block: Id, scene: Id, item: Item): Edit =>
  inBlock(block, ({ scenes }) => void scenes.find(({ id }) => id === scene)?.items.push(item));

export const removeItem = (block: Id, scene: Id, item: Id): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene);
    if (found) found.items = found.items.filter(({ id }) => id !== item);
  });

/** Changes properties of an item; nested ones (`at`, `size`) are given whole. */
export const setItem = (block: Id, scene: Id, item: Id, change: Record<string, unknown>): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene)?.items.find(({ id }) => id === item);
    if (found) assign(found, change);
  });

/** Moves an item in the layer order: +1 one step to the front, −1 one step to the back. */
export const layerItem = (block: Id, scene: Id, item: Id, by: 1 | -1): Edit =>
  inBlock(block, ({ scenes }) => {
    const items = scenes.find(({ id }) => id === scene)?.items;
    const at = items?.findIndex(({ id }) => id === item) ?? -1;
    if (!items || at < 0 || at + by < 0 || at + by >= items.length) return;
    const [moved] = items.splice(at, 1);
    if (moved) items.splice(at + by, 0, moved);
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
  });
