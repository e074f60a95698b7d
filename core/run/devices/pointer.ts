import type { Block, PointerDevice, Target } from "../../design/types";
import { resolve } from "../resolve";
import type { DeviceRules } from "./device";

export const nameOfTarget = (target: Target): string => ("item" in target ? target.item : target.region);

export const pointer: DeviceRules<PointerDevice> = {
  accepts: (device, { on, value }, context) => {
    const target = device.targets.find((each) => nameOfTarget(each) === on);
    if (!target) return null;
    return target.value === null ? value : String(resolve(target.value, context) ?? value);
  },
  possible: (device, context, block) =>
    device.targets.flatMap((target) => {
      const on = nameOfTarget(target);
      const values = target.value === null ? ownValues(target, block) : [String(resolve(target.value, context) ?? "")];
      return values.map((value) => ({ device: "pointer" as const, value, on, by: "mouse" as const }));
    }),
};

/** What a target without a value of its own stands for: its name; in an array, whether the element is the target. */
function ownValues(target: Target, block: Block): string[] {
  if ("region" in target) return [target.region];
  const item = block.scenes.flatMap(({ items }) => items).find(({ id }) => id === target.item);
  if (!item) return [];
  return item.kind === "array" ? ["target", "other"] : [item.name];
}
