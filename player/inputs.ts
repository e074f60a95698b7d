import { deviceKind, deviceNames } from "~/core/devices/registry";
import type { Block } from "~/core/design/block";
import { itemsIn } from "~/core/design/lookup";
import { itemKind } from "~/core/items/registry";
import { inUnits, isField, keyName, targetOf, type InputStage, type Send } from "./device-listener";
import { listenerOf } from "./listeners";

/** Told of every key and pointer press, answer or not; typing into a field is private. */
export type RawInput = (what: "key-down" | "key-up" | "pointer-down", value: string, stamp: number) => void;

/** True where answers of this block are given by pointing or with fields, so that the pointer has to be seen. */
export const needsPointer = (block: Block): boolean =>
  block.answers.some(({ by }) => by.some(({ device }) => deviceKind(device).isPointed)) ||
  itemsIn(block).some(({ kind }) => itemKind(kind).isWorked);

/** Listens for everything that can be an answer in this block; returns a function that stops listening. */
export function listen(block: Block, stage: InputStage, send: Send, raw?: RawInput): () => void {
  const all = block.answers.flatMap(({ by }) => by);
  const stops = [
    keepMenuAway(stage),
    ...(raw ? [listenToAll(stage, raw)] : []),
    ...deviceNames.flatMap((name) => {
      const devices = all.filter(({ device }) => device === name);
      return devices.length > 0 ? [listenerOf(name)(devices, stage, send)] : [];
    }),
  ];
  return () => stops.forEach((stop) => stop());
}

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
