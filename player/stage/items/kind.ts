import type { Item } from "~/core/design/types";
import { resolve, resolveNumber, type Context } from "~/core/run/resolve";
import type { Bindable, Scalar } from "~/core/design/types";
import type { Drawing } from "../context";

/** What the stage knows of a kind of item: how its element is made, and how its present values are put on it. */
export type ItemDrawer<T extends Item> = {
  create: (document: Document) => HTMLElement;
  update: (element: HTMLElement, item: T, drawing: Drawing) => void;
};

export const numberOr = (value: Bindable<Scalar>, context: Context, otherwise: number): number =>
  resolveNumber(value, context) ?? otherwise;
export const textOr = (value: Bindable<Scalar>, context: Context, otherwise: string): string =>
  String(resolve(value, context) ?? otherwise);

/** `cqmin` is 1 % of the stage's shorter side: exactly one stage unit, at any size of the stage. */
export const units = (value: number): string => `${value}cqmin`;

export function place(element: HTMLElement, item: Item, context: Context): void {
  const [x, y] = [numberOr(item.at.x, context, 0), numberOr(item.at.y, context, 0)];
  element.style.left = `calc(50% + ${units(x)})`;
  element.style.top = `calc(50% - ${units(y)})`;
}
