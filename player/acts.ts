import type { Act } from "~/core/records/firing";
import type { Rule } from "~/core/rules/rule";
import { speed } from "./pace";
import type { Outside } from "./outside";
import type { Stage } from "./trial-loop";
import { isField, targetOf } from "./device-listener";

type Happened = Act["happened"];
/** `frame` is called in every frame, for keys that are held. */
export type Acts = { frame: (stamp: number) => void; stop: () => void };

/** Listens for what rules wait for besides answers; `stage` is left out on pages, where nothing is pointed at. */
export function listenForActs(
  rules: readonly Rule[],
  stage: Pick<Stage, "host" | "root"> | null,
  tell: (happened: Happened, stamp: number) => void,
): Acts {
  const waitsFor = new Set(rules.map(({ when }) => when.on));
  const stopping = new AbortController();
  const { signal } = stopping;
  const pressed = new Map<string, { since: number; told: Set<number> }>();
  const holds = rules.flatMap(({ when }) =>
    when.on === "key" && when.act === "hold" ? [{ key: when.key, ms: when.heldMs ?? 500 }] : [],
  );
  if (waitsFor.has("key")) {
    const key = (event: KeyboardEvent) => {
      if (event.repeat || isField(targetOf(event))) return;
      const isDown = event.type === "keydown";
      if (isDown) pressed.set(event.code, { since: event.timeStamp, told: new Set() });
      else pressed.delete(event.code);
      tell({ on: "key", key: event.code, act: isDown ? "press" : "release" }, event.timeStamp);
    };
    addEventListener("keydown", key, { capture: true, signal });
    addEventListener("keyup", key, { capture: true, signal });
  }
  if (waitsFor.has("pointer") && stage) {
    const itemOf = (node: EventTarget | null | undefined): string | null =>
      node instanceof Element ? (node.closest<HTMLElement>("[data-item]")?.dataset.item ?? null) : null;
    const point = (act: "press" | "enter" | "leave") => (event: Event) => {
      const item = itemOf(event.composedPath()[0]);
      const other = itemOf((event as PointerEvent).relatedTarget);
      if (item === null || (act !== "press" && item === other)) return;
      tell({ on: "pointer", act, item }, event.timeStamp);
    };
    stage.root.addEventListener("pointerdown", point("press"), { signal });
    stage.root.addEventListener("pointerover", point("enter"), { signal });
    stage.root.addEventListener("pointerout", point("leave"), { signal });
  }
  if (waitsFor.has("scroll"))
    addEventListener("wheel", ({ timeStamp }) => tell({ on: "scroll" }, timeStamp), { signal, passive: true });
  if (waitsFor.has("window")) {
    addEventListener("blur", ({ timeStamp }) => tell({ on: "window", what: "focus-lost" }, timeStamp), { signal });
    addEventListener("focus", ({ timeStamp }) => tell({ on: "window", what: "focus-back" }, timeStamp), { signal });
    const screen = ({ timeStamp }: Event) => {
      if (document.fullscreenElement === null) tell({ on: "window", what: "full-screen-left" }, timeStamp);
    };
    document.addEventListener("fullscreenchange", screen, { signal });
  }
  return {
    frame: (stamp) => {
      for (const { key, ms } of holds) {
        const held = pressed.get(key);
        if (!held || held.told.has(ms) || stamp - held.since < ms) continue;
        held.told.add(ms);
        tell({ on: "key", key, act: "hold", heldMs: Math.round((stamp - held.since) * 1000) / 1000 }, stamp);
      }
    },
    stop: () => stopping.abort(),
  };
}

type PageActs = {
  tell: (happened: Happened, stamp: number) => void;
  /** When something of a rule is due, in session time. */
  due: () => number | null;
  now: () => number;
  /** Whether a rule has left the page. */
  isOver: () => boolean;
  /** Has scripts run, in a study that has any. */
  outside?: Outside | null;
};

/** Tells what rules wait for while a page is on; `left` is settled when one has left it. */
export function watchPage(
  rules: readonly Rule[],
  { tell, due, now, isOver, outside }: PageActs,
): { left: Promise<void>; stop: () => void } {
  let leave: () => void = () => undefined;
  const left = new Promise<void>((resolve) => (leave = resolve));
  let timer: ReturnType<typeof setTimeout> | undefined;
  const told = (happened: Happened, stamp: number) => {
    if (isOver()) return;
    tell(happened, stamp);
    wait();
  };
  const acts = listenForActs(
    rules.filter(({ off }) => !off),
    null,
    told,
  );
  const wait = () => {
    clearTimeout(timer);
    if (isOver()) return leave();
    const at = due();
    if (at !== null) timer = setTimeout(tick, Math.max(0, (at - now()) / speed()));
  };
  const tick = () => {
    const at = due();
    if (isOver() || at === null) return wait();
    if (now() < at) return wait();
    told({ on: "time" }, performance.now());
  };
  wait();
  outside?.listen(() => {
    for (let given = isOver() ? null : outside.take(); given; given = isOver() ? null : outside.take())
      told(given, performance.now());
  });
  return {
    left,
    stop: () => {
      clearTimeout(timer);
      acts.stop();
      outside?.listen(null);
    },
  };
}
