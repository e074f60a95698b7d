import type { Bindable, Scalar } from "~/core/values/ref";
import type { Item, PositionedItem } from "~/core/items/registry";
import type { Size } from "~/core/items/base";
import type { Input } from "~/core/devices/input";
import type { Observation } from "~/core/items/observation";
import { resolve, resolveNumber } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import type { Drawing } from "./context";

/** What the stage knows of a kind of item: how its element is made, and how its present values are put on it. */
export type ItemDrawer<T extends Item> = {
  create: (document: Document) => HTMLElement;
  update: (element: HTMLElement, item: T, drawing: Drawing) => void;
  /** Settled once it can be shown without delay; pictures in it need not be named here. */
  ready?: (element: HTMLElement, item: T, drawing: Drawing) => Promise<unknown>;
  /** What it does while a trial is played, beyond being seen. Prepared before the trial begins. */
  live?: (element: HTMLElement, item: T, drawing: Drawing, tell: Tell, frameMs: number) => Promise<LiveItem>;
  /** Draws what moves within it as it was so many ms after it had come on: where a session is shown again. */
  still?: (element: HTMLElement, item: T, drawing: Drawing, elapsed: number) => void;
};

/** Milliseconds rounded to a thousandth, as times are recorded. */
export const thousandth = (ms: number): number => Math.round(ms * 1000) / 1000;

/** An item that plays. `begin` and `end` are called in the frame in which it comes on or goes, with the frame's stamp. */
export type LiveItem = {
  begin: (stamp: number) => void;
  end: (stamp: number) => void;
  /** Told in advance the stamp of the frame in which it will come on, for what must be started earlier. */
  ahead?: (stamp: number) => void;
  /** Called every frame while it is on, with the milliseconds since it came on. */
  frame?: (elapsed: number) => void;
  /** True once nothing more of it is to come, so that a scene waiting for its media may end. */
  isOver?: () => boolean;
  /** Plays, pauses or stops it, or sets its loudness in per cent, as a rule says. */
  control?: (act: MediaAct, volume: number | null) => void;
};
export type MediaAct = "play" | "pause" | "stop" | "volume";

/** How a playing item tells what happened; time stamps are those of the page. */
export type Tell = {
  observed: (
    what: Observation["what"],
    stamp: number,
    more?: Pick<Observation, "value" | "offset" | "lateFrames">,
  ) => void;
  input: (input: Input, stamp: number) => void;
};

export const numberOr = (value: Bindable<Scalar>, context: Context, otherwise: number): number =>
  resolveNumber(value, context) ?? otherwise;
export const textOr = (value: Bindable<Scalar>, context: Context, otherwise: string): string =>
  String(resolve(value, context) ?? otherwise);

/** `cqmin` is 1 % of the stage's shorter side: exactly one stage unit, at any size of the stage. */
export const units = (value: number): string => `${value}cqmin`;

export function setPosition(element: HTMLElement, item: PositionedItem, context: Context): void {
  const [x, y] = [numberOr(item.at.x, context, 0), numberOr(item.at.y, context, 0)];
  element.style.left = `calc(50% + ${units(x)})`;
  element.style.top = `calc(50% - ${units(y)})`;
  const turned = numberOr(item.turned, context, 0);
  element.style.rotate = turned === 0 ? "" : `${turned}deg`;
}

/** Gives the element the item's size and hands it on, in stage units. */
export function sized(element: HTMLElement, size: Size, context: Context): { w: number; h: number } {
  const [w, h] = [numberOr(size.w, context, 10), numberOr(size.h, context, 10)];
  element.style.width = units(w);
  element.style.height = units(h);
  return { w, h };
}

/** A maker of elements of one class with one child. */
export const holding =
  (className: string, tag: string) =>
  (document: Document): HTMLElement => {
    const element = document.createElement("div");
    element.className = `item ${className}`;
    element.append(document.createElement(tag));
    return element;
  };
