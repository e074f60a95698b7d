import type { AnswerDevice } from "~/core/devices/registry";
import type { Input } from "~/core/devices/input";
import type { Id } from "~/core/values/ref";

/** The stage as inputs see it: its element, its shadow root, and the items' names. */
export type InputStage = { host: HTMLElement; root: ShadowRoot; nameOf: (item: Id) => string };
export type Send = (input: Input, stamp: number) => void;

/** Listens to one kind of device, as a block's answers set it; returns a function that stops listening. */
export type DeviceListener<D extends AnswerDevice> = (devices: D[], stage: InputStage, send: Send) => () => void;

/** The name of a key as designs write it: the event's `key`, with the space bar as `Space`. */
export const keyName = (event: KeyboardEvent): string => (event.key === " " ? "Space" : event.key);

/** What an event happened to, also inside the stage's shadow root. */
export const targetOf = (event: Event): Element | null => {
  const [target] = event.composedPath();
  return target instanceof Element ? target : null;
};
export const isField = (element: Element | null): boolean =>
  element !== null && ["input", "textarea"].includes(element.localName) && element.getAttribute("type") !== "range";

/** A point of the page in stage units, to a tenth. */
export function inUnits(host: HTMLElement, { clientX, clientY }: PointerEvent): { x: number; y: number } {
  const box = host.getBoundingClientRect();
  const unit = Math.min(box.width, box.height) / 100;
  const tenth = (value: number) => Math.round((value / unit) * 10) / 10 + 0;
  return { x: tenth(clientX - box.left - box.width / 2), y: tenth(box.top + box.height / 2 - clientY) };
}
