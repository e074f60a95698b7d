import type { Id, Item, Scene } from "~/core/design/types";
import { usesIn } from "~/core/design/uses";
import { changesInTrial, holds } from "~/core/run/resolve";
import type { Drawing } from "./context";
import { drawerOf } from "./items/registry";

/** A scene built on the stage. It is there from the start and only made visible when its frame comes. */
export type SceneLayer = {
  element: HTMLElement;
  /** The items' elements by their ids. */
  items: Map<Id, HTMLElement>;
  /** Settled once every picture is decoded and can be shown without delay. */
  ready: Promise<void>;
  show: (visible: boolean) => void;
  /** Puts present values on the items that may have changed since the trial began. */
  refresh: (drawing: Drawing) => void;
};

/** Builds a scene, hidden. The one place where scenes are drawn: for participants, in miniatures and when composing. */
export function buildScene(document: Document, scene: Scene, drawing: Drawing): SceneLayer {
  const element = document.createElement("div");
  element.className = "scene";
  const items = new Map<Id, HTMLElement>();
  const changing: Item[] = [];
  for (const item of scene.items) {
    const made = drawerOf(item).create(document);
    items.set(item.id, made);
    element.append(made);
    update(item, made, drawing);
    if (usesIn(item).some(({ ref }) => changesInTrial(ref))) changing.push(item);
  }
  const pictures = [...element.querySelectorAll("img")].filter(({ src }) => src);
  return {
    element,
    items,
    ready: Promise.all(pictures.map((picture) => picture.decode().catch(() => undefined))).then(() => undefined),
    show: (visible) => element.classList.toggle("shown", visible),
    refresh: (now) => {
      for (const item of changing) {
        const made = items.get(item.id);
        if (made) update(item, made, now);
      }
    },
  };
}

function update(item: Item, element: HTMLElement, drawing: Drawing) {
  element.hidden = item.when !== undefined && !holds(item.when, drawing.context);
  drawerOf(item).update(element, item, drawing);
}
