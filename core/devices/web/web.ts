import { object } from "../../shape/compound";
import { only } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { id } from "../../values/ref";
import { firstOf, type DeviceKindOf } from "../kind";
import { ofItem } from "../of-item";

const shape = object({ device: only("web"), item: id });
/** A value that a web page sends. */
export type PageDevice = Of<typeof shape>;

export const web: DeviceKindOf<PageDevice> = {
  ...ofItem<"web", PageDevice>("web", "a web page", (name) => `value of ${name}`),
  shape,
  make: (items) => ({ device: "web", item: firstOf(items, "web") }),
  isPointed: false,
};
