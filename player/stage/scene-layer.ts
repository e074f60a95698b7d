import type { Id } from "~/core/values/ref";
import type { Item } from "~/core/items/registry";
import { changedItem } from "~/core/items/changed";
import type { Scene } from "~/core/design/scene";
import { usesIn } from "~/core/values/uses";
import { changesInTrial, holds, resolveNumber } from "~/core/values/resolve";
import { speed } from "../pace";
import type { Drawing } from "./context";
import type { LiveItem, MediaAct, Tell } from "./item-drawer";
import { drawerOf } from "./drawers";

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
export function buildScene(
  document: Document,
  scene: Scene,
  drawing: Drawing,
  /** The items that rules can change. */
  mayChange: ReadonlySet<Id> = nothing,
): SceneLayer {
  const element = document.createElement("div");
  element.className = "scene";
  const items = new Map<Id, HTMLElement>();
  const changing: Item[] = [];
  for (const item of scene.items) {
    const made = drawerOf(item).create(document);
    made.dataset.item = item.id;
    items.set(item.id, made);
    element.append(made);
    update(item, made, drawing);
    if (mayChange.has(item.id) || usesIn(item).some(({ ref }) => changesInTrial(ref))) changing.push(item);
  }
  // A scene that is not on takes no part in the order of the Tab key.
  const isWorked = element.querySelector("button, input, textarea, .web") !== null;
  element.inert = isWorked;
  const pictures = [...element.querySelectorAll("img")].filter(({ src }) => src);
  const waits = [
    ...pictures.map((picture) => picture.decode()),
    ...scene.items.map((item) => drawerOf(item).ready?.(items.get(item.id) as HTMLElement, item, drawing)),
  ];
  return {
    element,
    items,
    ready: Promise.allSettled(waits).then(() => undefined),
    show: (visible) => {
      element.classList.toggle("shown", visible);
      if (isWorked) element.inert = !visible;
    },
    refresh: (now) => {
      for (const item of changing) {
        const made = items.get(item.id);
        if (made) update(item, made, now);
      }
    },
  };
}

const nothing: ReadonlySet<Id> = new Set();

function update(asDesigned: Item, element: HTMLElement, drawing: Drawing) {
  const item = changedItem(asDesigned, drawing.context.changes[asDesigned.id]);
  element.hidden = item.when !== undefined && !holds(item.when, drawing.context);
  drawerOf(item).update(element, item, drawing);
}

/** A scene while a trial is played: what comes, goes and plays within it. Times in ms of the page's frames. */
export type ScenePlay = {
  begin: (stamp: number) => void;
  /** Told in advance the stamp of the frame in which the scene is certain to come on. */
  ahead: (stamp: number) => void;
  frame: (stamp: number) => void;
  end: (stamp: number) => void;
  /** True when every sound and video of the scene has come to its end. */
  isOver: () => boolean;
  /** Does something to a sound or video of the scene, as a rule says. */
  control: (item: Id, act: MediaAct, volume: number | null, stamp: number) => void;
};

/** Drawn, but too faint to be seen, and nothing that can be pointed at or reached by the Tab key. */
export function setWaiting(element: HTMLElement, isWaiting: boolean) {
  element.classList.toggle("waiting", isWaiting);
  element.inert = isWaiting;
}

type Timed = {
  item: Item;
  element: HTMLElement;
  begins: number;
  ends: number;
  live: LiveItem | null;
  state: "waiting" | "on" | "gone";
};

/** Prepares what plays in a scene. `frameMs` is the display's frame length: an item comes on in the frame nearest to its time. */
export async function scenePlay(
  { items }: SceneLayer,
  scene: Scene,
  drawing: Drawing,
  frameMs: number,
  tellOf: (item: Item) => Tell,
): Promise<ScenePlay> {
  const timed = await Promise.all(
    scene.items.flatMap((item): Promise<Timed>[] => {
      const { live } = drawerOf(item);
      const element = items.get(item.id);
      if (!element || (!live && item.begins === undefined && item.ends === undefined)) return [];
      const at = (value: Item["begins"], otherwise: number) =>
        value === undefined ? otherwise : (resolveNumber(value, drawing.context) ?? otherwise);
      const [begins, ends] = [at(item.begins, 0) / speed(), at(item.ends, Infinity) / speed()];
      const made = live?.(element, item, drawing, tellOf(item), frameMs) ?? Promise.resolve(null);
      return [made.then((each) => ({ item, element, begins, ends, live: each, state: "waiting" }))];
    }),
  );
  for (const { element, begins, ends } of timed) {
    if (begins > 0 || ends < Infinity) element.classList.add("timed");
    if (begins > 0) setWaiting(element, true);
  }
  let onset = 0;
  const advance = (stamp: number) => {
    const elapsed = stamp - onset + frameMs / 2;
    for (const each of timed) {
      if (each.element.hidden) continue;
      const isTimed = each.item.begins !== undefined || each.item.ends !== undefined;
      if (each.state === "waiting" && elapsed >= each.begins && elapsed < each.ends) {
        each.state = "on";
        setWaiting(each.element, false);
        if (isTimed && !each.live) tellOf(each.item).observed("began", stamp);
        each.live?.begin(stamp);
      }
      if (each.state === "on" && elapsed >= each.ends) {
        each.state = "gone";
        setWaiting(each.element, true);
        if (isTimed) tellOf(each.item).observed("ended", stamp);
        each.live?.end(stamp);
      }
      if (each.state === "on") each.live?.frame?.((stamp - onset - each.begins) * speed());
    }
  };
  const ahead = (stamp: number, isLater: boolean) => {
    for (const { live, begins, element } of timed)
      if (live?.ahead && !element.hidden && begins > 0 === isLater) live.ahead(stamp + begins);
  };
  return {
    begin: (stamp) => {
      onset = stamp;
      advance(stamp);
      ahead(stamp, true);
    },
    ahead: (stamp) => ahead(stamp, false),
    frame: advance,
    end: (stamp) => {
      for (const each of timed) {
        if (each.state === "on" || (each.state === "waiting" && each.live?.ahead)) each.live?.end(stamp);
        each.state = "gone";
      }
    },
    control: (item, act, volume, stamp) => {
      const found = timed.find((each) => each.item.id === item);
      if (!found?.live?.control) return;
      if (act === "play" && found.state === "waiting") {
        found.state = "on";
        setWaiting(found.element, false);
        found.live.begin(stamp);
      } else found.live.control(act, volume);
    },
    isOver: () =>
      timed.every(({ live, state, element }) => !live?.isOver || element.hidden || state === "gone" || live.isOver()),
  };
}
