import type { SliderDevice } from "~/core/devices/slider/slider";
import { confirmed } from "../answer-items";
import type { DeviceSettings } from "../device-settings";

export const settings: DeviceSettings<SliderDevice> = {
  title: "Slider",
  offer: "A slider",
  Fields: confirmed("Slider", "slider", "when let go, or with Enter"),
};
