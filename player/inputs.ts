import { placeOfKey } from "~/core/run/devices/keys";
import { nameOfTarget } from "~/core/run/devices/pointer";
import type { AnswerDevice, Block, Id, Target } from "~/core/design/types";
import type { Input } from "~/core/run/records";

type Send = (input: Input, stamp: number) => void;
/** Told every key and pointer press as it comes, answer or not; typing into a field is nobody's business. */
export type RawInput = (what: "key-down" | "key-up" | "pointer-down", value: string, stamp: number) => void;
/** The stage as inputs see it: its element, its shadow root, and the items' names. */
export type InputStage = { host: HTMLElement; root: ShadowRoot; nameOf: (item: Id) => string };

/** The name of a key as designs write it: the event's `key`, with the space bar as `Space`. */
export const keyName = (event: KeyboardEvent): string => (event.key === " " ? "Space" : event.key);

/** True where answers of this block are given by pointing or with fields, so that the pointer has to be seen. */
export const needsPointer = (block: Block): boolean =>
  block.answers.some(({ by }) => by.some(({ device }) => device !== "keys" && device !== "web")) ||
  block.scenes.some(({ items }) => items.some(({ kind }) => ["button", "entry", "slider", "web"].includes(kind)));

/** Listens for everything that can be an answer in this block, until what it gives is called. */
export function listen(block: Block, stage: InputStage, send: Send, raw?: RawInput): () => void {
  const devices = block.answers.flatMap(({ by }) => by);
  const stops = [
    keepMenuAway(stage),
    ...(raw ? [listenToAll(stage, raw)] : []),
    ...(devices.some(({ device }) => device === "keys") ? [listenToKeys(devices, stage, send)] : []),
    listenToPointer(devices, stage, send),
    listenToFields(devices, stage, send),
  ];
  return () => stops.forEach((stop) => stop());
}

/** What an event happened to, also inside the stage's shadow root. */
const targetOf = (event: Event): Element | null => {
  const [target] = event.composedPath();
  return target instanceof Element ? target : null;
};
const isField = (element: Element | null) =>
  element !== null && ["input", "textarea"].includes(element.localName) && element.getAttribute("type") !== "range";

/** A long touch or a second button would open a menu over the trial, and take the focus from it. Fields keep theirs. */
function keepMenuAway({ host }: InputStage): () => void {
  const menu = (event: Event) => {
    if (!isField(targetOf(event))) event.preventDefault();
  };
  host.addEventListener("contextmenu", menu);
  return () => host.removeEventListener("contextmenu", menu);
}

function listenToAll({ host }: InputStage, raw: RawInput): () => void {
  const key = (event: KeyboardEvent) => {
    if (event.repeat || isField(targetOf(event))) return;
    raw(event.type === "keydown" ? "key-down" : "key-up", `${keyName(event)} ${event.code}`, event.timeStamp);
  };
  const pointer = (event: PointerEvent) => {
    const { x, y } = inUnits(host, event);
    raw("pointer-down", `${event.pointerType} ${event.button} ${x} ${y}`, event.timeStamp);
  };
  addEventListener("keydown", key, true);
  addEventListener("keyup", key, true);
  host.addEventListener("pointerdown", pointer);
  return () => {
    removeEventListener("keydown", key, true);
    removeEventListener("keyup", key, true);
    host.removeEventListener("pointerdown", pointer);
  };
}

function listenToKeys(devices: AnswerDevice[], { root }: InputStage, send: Send): () => void {
  const holds = [
    ...new Set(devices.flatMap((each) => (each.device === "keys" && each.act === "hold" ? [each.holdMs] : []))),
  ];
  const held = new Map<string, ReturnType<typeof setTimeout>[]>();
  const input = (event: KeyboardEvent, act: Input["act"], heldMs?: number): Input => ({
    device: "keys",
    value: keyName(event),
    place: placeOfKey(event.code),
    act,
    ...(heldMs === undefined ? {} : { heldMs }),
  });
  const isOurs = (event: KeyboardEvent) => {
    const target = targetOf(event);
    if (event.ctrlKey || event.metaKey || event.altKey || isField(target)) return false;
    // A button or slider that has the focus is worked by these keys.
    const isControl = target !== null && ["button", "input"].includes(target.localName) && root.contains(target);
    return !(isControl && (event.key === "Enter" || event.key === " " || event.key.startsWith("Arrow")));
  };
  const down = (event: KeyboardEvent) => {
    if (!isOurs(event)) return;
    if (event.key === " " || event.key.startsWith("Arrow")) event.preventDefault();
    if (event.repeat) return;
    send(input(event, "press"), event.timeStamp);
    const timers = holds.map((ms) => setTimeout(() => send(input(event, "hold", ms), event.timeStamp), ms));
    if (timers.length > 0) held.set(event.code, timers);
  };
  const up = (event: KeyboardEvent) => {
    held.get(event.code)?.forEach(clearTimeout);
    held.delete(event.code);
    if (isOurs(event)) send(input(event, "release"), event.timeStamp);
  };
  addEventListener("keydown", down, true);
  addEventListener("keyup", up, true);
  return () => {
    removeEventListener("keydown", down, true);
    removeEventListener("keyup", up, true);
    held.forEach((timers) => timers.forEach(clearTimeout));
  };
}

function listenToPointer(devices: AnswerDevice[], stage: InputStage, send: Send): () => void {
  const targets = devices.flatMap((each) => (each.device === "pointer" ? each.targets : []));
  if (targets.length === 0) return () => undefined;
  const { host, root, nameOf } = stage;
  const down = (event: PointerEvent) => {
    if (!event.isPrimary || event.button !== 0) return;
    const at = inUnits(host, event);
    const by = event.pointerType === "touch" || event.pointerType === "pen" ? event.pointerType : "mouse";
    const hit = targetAt(root, event, at, targets);
    if (hit) send({ device: "pointer", value: hit.value ?? nameOf(hit.on), on: hit.on, by, ...at }, event.timeStamp);
  };
  const click = (event: MouseEvent) => {
    // A click without a pointer is a button worked by the keyboard.
    const item = event.detail === 0 ? targetOf(event)?.closest<HTMLElement>(".button")?.dataset.item : undefined;
    if (item && targets.some((target) => nameOfTarget(target) === item))
      send({ device: "pointer", value: nameOf(item), on: item, by: "keyboard" }, event.timeStamp);
  };
  host.addEventListener("pointerdown", down);
  host.addEventListener("click", click);
  return () => {
    host.removeEventListener("pointerdown", down);
    host.removeEventListener("click", click);
  };
}

/** The frontmost target under the pointer: an item first, then a region. In an array, only its elements count. */
function targetAt(
  root: ShadowRoot,
  event: PointerEvent,
  at: { x: number; y: number },
  targets: Target[],
): { on: string; value: string | null } | null {
  for (const element of root.elementsFromPoint(event.clientX, event.clientY)) {
    const item = element.closest<HTMLElement>("[data-item]");
    if (!item || !targets.some((target) => nameOfTarget(target) === item.dataset.item)) continue;
    const role = element.closest<HTMLElement>("[data-element]")?.dataset.element ?? null;
    if (item.classList.contains("array") && role === null) continue;
    return { on: item.dataset.item ?? "", value: role };
  }
  const region = targets.find(
    (target) =>
      "region" in target &&
      Math.abs(at.x - target.at.x) <= target.size.w / 2 &&
      Math.abs(at.y - target.at.y) <= target.size.h / 2,
  );
  return region ? { on: nameOfTarget(region), value: nameOfTarget(region) } : null;
}

/** A point of the page in stage units, to a tenth. */
function inUnits(host: HTMLElement, { clientX, clientY }: PointerEvent): { x: number; y: number } {
  const box = host.getBoundingClientRect();
  const unit = Math.min(box.width, box.height) / 100;
  const tenth = (value: number) => Math.round((value / unit) * 10) / 10 + 0;
  return { x: tenth(clientX - box.left - box.width / 2), y: tenth(box.top + box.height / 2 - clientY) };
}

/** Entries and sliders: taken at Enter, when let go, or with the button that confirms them. */
function listenToFields(devices: AnswerDevice[], { host, root }: InputStage, send: Send): () => void {
  const fields = devices.flatMap((each) => (each.device === "typed" || each.device === "slider" ? [each] : []));
  if (fields.length === 0) return () => undefined;
  const fieldOf = (item: Id) =>
    root.querySelector<HTMLInputElement | HTMLTextAreaElement>(
      `[data-item="${CSS.escape(item)}"] input, [data-item="${CSS.escape(item)}"] textarea`,
    );
  const give = (device: (typeof fields)[number], stamp: number) => {
    const field = fieldOf(device.item);
    if (!field || field.classList.contains("untouched")) return;
    const isWanted = field.dataset.takes !== "number" || /^[-+]?\d*[.,]?\d+$/.test(field.value.trim());
    field.toggleAttribute("aria-invalid", false);
    if (field.value.trim() === "" || !isWanted) return field.setAttribute("aria-invalid", "true");
    send({ device: device.device, value: field.value.trim(), on: device.item }, stamp);
  };
  const of = (event: Event) => {
    const item = targetOf(event)?.closest<HTMLElement>("[data-item]")?.dataset.item;
    return fields.filter((device) => device.item === item);
  };
  const keydown = (event: KeyboardEvent) => {
    const isLong = targetOf(event)?.localName === "textarea";
    if (event.key !== "Enter" || event.repeat || (isLong && !event.ctrlKey)) return;
    for (const device of of(event)) if (device.confirm === null) give(device, event.timeStamp);
  };
  // A slider worked by the arrow keys changes with every press and is taken at Enter; by a pointer, when it is let go, also
  // where that leaves it as it stood.
  let pointed: typeof fields = [];
  const pointerdown = (event: Event) => {
    pointed = of(event).filter(({ device, confirm }) => device === "slider" && confirm === null);
  };
  const pointerup = (event: PointerEvent) => {
    const letGo = pointed;
    pointed = [];
    for (const device of letGo) give(device, event.timeStamp);
  };
  const click = (event: MouseEvent) => {
    const item = targetOf(event)?.closest<HTMLElement>(".button")?.dataset.item;
    for (const device of fields) if (item !== undefined && device.confirm === item) give(device, event.timeStamp);
  };
  root.addEventListener("keydown", keydown as EventListener);
  root.addEventListener("pointerdown", pointerdown);
  addEventListener("pointerup", pointerup);
  host.addEventListener("click", click);
  return () => {
    root.removeEventListener("keydown", keydown as EventListener);
    root.removeEventListener("pointerdown", pointerdown);
    removeEventListener("pointerup", pointerup);
    host.removeEventListener("click", click);
  };
}
