import type { Item } from "../items/registry";
import type { Context } from "../values/context";
import type { Id } from "../values/ref";
import type { Input } from "./input";
import type { WayToAnswer } from "./kind";
import { deviceKind, type AnswerDevice } from "./registry";

/** The part of an answer that says how it is given. */
type Given = { by: readonly AnswerDevice[] };

/** The answer an input stands for by any of the ways to give this answer, or null. */
export function acceptedBy({ by }: Given, input: Input, context: Context): string | null {
  for (const device of by) {
    const value = device.device === input.device ? deviceKind(device.device).accepts(device, input, context) : null;
    if (value !== null) return value;
  }
  return null;
}

/** Every input that gives this answer in a trial; null where they cannot be listed. */
export function possibleInputs({ by }: Given, context: Context, items: readonly Item[]): Input[] | null {
  const each = by.map((device) => deviceKind(device.device).possible(device, context, items));
  return each.some((inputs) => inputs === null) ? null : each.flatMap((inputs) => inputs ?? []);
}

/** The items an answer is given by, each called what it takes. */
export const itemsOfAnswer = ({ by }: Given): { item: Id; takes: string }[] =>
  by.flatMap((device) => deviceKind(device.device).items(device));

const anyWay: WayToAnswer = {
  nothing: "no way yet",
  problem: "There is no way to give it, so no one can answer. Choose one in the margin.",
  all: "the possible answers",
};
/** What messages call the ways to give an answer: by the device where there is only one kind of it. */
export function wayToAnswer({ by }: Given): WayToAnswer {
  const [first, ...others] = new Set(by.map(({ device }) => device));
  return (first !== undefined && others.length === 0 ? deviceKind(first).called : undefined) ?? anyWay;
}

/** Each way to give an answer in the shown trial, in a word or two: `F`, `far button`, `text in the entry`. */
export const waysInWords = ({ by }: Given, items: readonly Item[], context: Context): string[] => {
  const nameOf = (id: Id) => items.find((item) => item.id === id)?.name ?? "something that is gone";
  return by.flatMap((device) => deviceKind(device.device).inWords(device, nameOf, context));
};

/** Whether the device, as set, makes answering impossible. */
export const isEmptyDevice = (device: AnswerDevice): boolean => deviceKind(device.device).isEmpty(device);
