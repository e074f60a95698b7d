import { object } from "../shape/compound";
import { only } from "../shape/plain";
import { nullable } from "../shape/shape";
import { id, type Id } from "../values/ref";
import { firstOf, type DeviceKindOf } from "./kind";
import type { Item } from "../items/registry";

/** Ways to answer by one item, taken by a button or, where this is null, by the item itself. */
type Confirmed<W extends string> = { device: W; item: Id; confirm: Id | null };
const confirmedShape = <const W extends string>(device: W) =>
  object({ device: only(device), item: id, confirm: nullable(id) });

/** What is common to ways to answer that take whatever their one item gives. */
export const ofItem = <W extends string, D extends { device: W; item: Id }>(
  device: W,
  takes: string,
  says: (name: string) => string,
): Pick<DeviceKindOf<D>, "accepts" | "possible" | "giving" | "items" | "isEmpty" | "inWords"> => ({
  accepts: ({ item }, { on, value }) => (on === item ? value : null),
  possible: () => null,
  giving: ({ item }, value) => ({ device, on: item, value }),
  items: ({ item }) => [{ item, takes }],
  isEmpty: ({ item }) => item === "",
  inWords: ({ item }, nameOf) => [says(nameOf(item))],
});

/** The same for those that a button can confirm. */
export function confirmed<const W extends string>(
  device: W,
  kind: Item["kind"],
  takes: string,
  says: (name: string) => string,
): DeviceKindOf<Confirmed<W>> {
  return {
    ...ofItem<W, Confirmed<W>>(device, takes, says),
    shape: confirmedShape(device),
    make: (items) => ({ device, item: firstOf(items, kind), confirm: null }),
    items: ({ item, confirm }) => [
      { item, takes },
      ...(confirm === null ? [] : [{ item: confirm, takes: "a button" }]),
    ],
    isPointed: true,
  };
}
