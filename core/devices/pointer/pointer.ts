import { itemKind, type Item } from "../../items/registry";
import { list, object } from "../../shape/compound";
import { number, only, title } from "../../shape/plain";
import { choosing, nullable, type Of } from "../../shape/shape";
import { dataColumn, tenth } from "../../values/data-column";
import { bindable, id, scalar } from "../../values/ref";
import { resolve } from "../../values/resolve";
import type { Input } from "../input";
import type { DeviceKindOf } from "../kind";

/** The value a target stands for, or null for its name. */
const value = nullable(bindable(scalar));
const onItem = object({ item: id, value });
const inRegion = object({
  region: title(60),
  at: object({ x: number(), y: number() }),
  size: object({ w: number({ above: 0 }), h: number({ above: 0 }) }),
  value,
});
/** Mouse, pen or touch on an item (a button also by keyboard), or within a region. */
export type Target = Of<typeof onItem> | Of<typeof inRegion>;
const target = choosing<Target>((input) =>
  typeof input === "object" && input !== null && "region" in input ? inRegion : onItem,
);

const shape = object({ device: only("pointer"), targets: list(target, 0, 200) });
export type PointerDevice = Of<typeof shape>;

/** The item or the region: what the driver says was pointed at. */
export const nameOfTarget = (of: Target): string => ("item" in of ? of.item : of.region);

const axes = ["x", "y"] as const;

export const pointer: DeviceKindOf<PointerDevice> = {
  shape,
  make: (items) => ({
    device: "pointer",
    targets: items.flatMap(({ kind, id }) => (kind === "button" ? [{ item: id, value: null }] : [])),
  }),
  accepts: (device, { on, value }, context) => {
    const found = device.targets.find((each) => nameOfTarget(each) === on);
    if (!found) return null;
    return found.value === null ? value : String(resolve(found.value, context) ?? value);
  },
  possible: (device, context, items) =>
    device.targets.flatMap((each): Input[] => {
      const values = each.value === null ? ownValues(each, items) : [String(resolve(each.value, context) ?? "")];
      return values.map((value) => ({ device: "pointer", value, on: nameOfTarget(each), by: "mouse" }));
    }),
  items: (device) => device.targets.flatMap((each) => ("item" in each ? [{ item: each.item, takes: "an item" }] : [])),
  isEmpty: (device) => device.targets.length === 0,
  inWords: (device, nameOf) => device.targets.map((each) => ("item" in each ? nameOf(each.item) : each.region)),
  columns: axes.map((axis) =>
    dataColumn(
      `answer_${axis}`,
      "number",
      `was given here: ${axis}, from the centre of the stage`,
      ({ input }) => (input[axis] === undefined ? null : tenth(input[axis])),
      { unit: "stage units" },
    ),
  ),
  isPointed: true,
};

/** What a target without a value of its own stands for. */
function ownValues(of: Target, items: readonly Item[]): string[] {
  if ("region" in of) return [of.region];
  const item = items.find(({ id }) => id === of.item);
  if (!item) return [];
  return itemKind(item.kind).pointed?.(item) ?? [item.name];
}
