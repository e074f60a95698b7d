import { stopsOf } from "../../items/slider/slider";
import type { Of } from "../../shape/shape";
import type { DeviceKindOf } from "../kind";
import { confirmed } from "../of-item";

const plain = confirmed("slider", "slider", "a slider", (name) => `${name} set`);
export type SliderDevice = Of<(typeof plain)["shape"]>;

/** Where a slider was left, when it is let go or the button chosen here is pressed. */
export const slider: DeviceKindOf<SliderDevice> = {
  ...plain,
  possible: (device, _, items) => {
    const item = items.find(({ id }) => id === device.item);
    if (item?.kind !== "slider") return [];
    return stopsOf(item).map((value) => ({ device: "slider", on: device.item, value: String(value) }));
  },
};
