import type { TypedDevice } from "~/core/devices/typed/typed";
import { confirmed } from "../answer-items";
import type { DeviceSettings } from "../device-settings";

export const settings: DeviceSettings<TypedDevice> = {
  title: "Typed text",
  offer: "Text typed into an entry",
  Fields: confirmed("Entry", "entry", "with Enter (Ctrl Enter in several lines)"),
};
