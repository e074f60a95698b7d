import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import { itemsIn, partNodes } from "~/core/design/lookup";
import { mediaKind } from "~/core/media/types";
import type { Action, ActionKind, ActionOf, Target } from "~/core/rules/action";
import { actionKind, type Level } from "~/core/rules/kinds";
import { actionKinds } from "~/core/rules/action";

/** What each action is called where it is chosen. */
const called: Record<ActionKind, string> = {
  set: "set a value",
  add: "add to a value",
  append: "add to a list",
  draw: "take one at random out of a list",
  item: "change an item",
  sound: "play a sound",
  media: "play, pause or stop a sound or video",
  "next-scene": "go on to the next scene",
  "go-to-scene": "go to a scene",
  "end-trial": "end the trial",
  "repeat-trial": "show the trial again later",
  "end-block": "end the block",
  "begin-block-again": "begin the block again",
  "go-to-part": "go to a later part",
  "end-session": "end the session",
  page: "show a page and come back",
  event: "write an event",
  marker: "send a marker",
  script: "run a script",
  ask: "ask a service",
};

/** A fresh action of each kind, with what is there to choose from; null where there is nothing. */
const fresh: { [K in ActionKind]: (document: StudyDocument, block: Block | null) => ActionOf<K> | null } = {
  set: ({ variables }) => ({ do: "set", what: firstTarget(variables), to: 0 }),
  add: ({ variables }) => ({ do: "add", what: firstTarget(variables), to: 1 }),
  append: ({ variables }) => {
    const list = variables.find(({ type }) => type === "list");
    return list ? { do: "append", variable: list.id, to: { from: { builtIn: "last.answer" } } } : null;
  },
  draw: ({ variables }) => {
    const list = variables.find(({ type }) => type === "list");
    const other = variables.find(({ id }) => id !== list?.id);
    return list && other ? { do: "draw", from: list.id, what: other.id } : null;
  },
  item: (_, block) => {
    const [item] = itemsIn(block ?? { scenes: [] });
    return item ? { do: "item", item: item.id, property: "shown", to: false } : null;
  },
  sound: ({ media }) => {
    const file = media.find(({ mime }) => mediaKind(mime) === "sound");
    return file ? { do: "sound", file: file.id, volume: 100 } : null;
  },
  media: (_, block) => {
    const item = itemsIn(block ?? { scenes: [] }).find(({ kind }) => kind === "sound" || kind === "video");
    return item ? { do: "media", item: item.id, act: "stop" } : null;
  },
  "next-scene": () => ({ do: "next-scene" }),
  "go-to-scene": (_, block) => {
    const scene = block?.scenes.at(-1);
    return scene ? { do: "go-to-scene", scene: scene.id } : null;
  },
  "end-trial": () => ({ do: "end-trial" }),
  "repeat-trial": () => ({ do: "repeat-trial", most: 3 }),
  "end-block": () => ({ do: "end-block" }),
  "begin-block-again": () => ({ do: "begin-block-again", most: 2 }),
  "go-to-part": ({ runningOrder }) => {
    const last = partNodes(runningOrder)
      .filter(({ aside }) => !aside)
      .at(-1);
    return last ? { do: "go-to-part", part: last.part } : null;
  },
  "end-session": () => ({ do: "end-session", as: "finished", text: [] }),
  page: ({ parts }) => {
    const page = Object.values(parts).find(({ kind }) => kind === "page");
    return page ? { do: "page", page: page.id } : null;
  },
  event: () => ({ do: "event", name: "event" }),
  marker: () => ({ do: "marker", marker: "1" }),
  script: ({ variables }) => {
    const number = variables.find(({ type }) => type === "number");
    return {
      do: "script",
      code: "return { result: values.time / 2 };",
      gets: [{ name: "time", value: { from: { builtIn: "last.rt_ms" } } }],
      gives: number ? [{ name: "result", variable: number.id }] : [],
      limitMs: 1000,
    };
  },
  ask: ({ services, variables }) => {
    const [service] = services;
    const number = variables.find(({ type }) => type === "number");
    return service
      ? {
          ...{ do: "ask", service: service.id, limitMs: 5000, otherwise: "keep" },
          sends: [{ name: "time", value: { from: { builtIn: "last.rt_ms" } } }],
          gives: number ? [{ name: number.name, variable: number.id }] : [],
        }
      : null;
  },
};
const firstTarget = (variables: StudyDocument["variables"]): Target => {
  const number = variables.find(({ type }) => type === "number") ?? variables[0];
  return number ? { variable: number.id } : { points: true };
};

/** The actions that can be chosen at a level, each as a fresh one; what there is nothing for is left out. */
export const actionsAt = (
  level: Level,
  document: StudyDocument,
  block: Block | null,
): { says: string; action: Action }[] =>
  actionKinds
    .filter((kind) => actionKind(kind).at.includes(level))
    .flatMap((kind) => {
      const action = fresh[kind](document, block);
      return action ? [{ says: called[kind], action }] : [];
    });
