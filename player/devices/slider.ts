import type { SliderDevice } from "~/core/devices/slider/slider";
import type { DeviceListener } from "../device-listener";
import { listenToFields } from "../field-listener";

/**
 * A slider worked by the arrow keys changes with every press and is taken at Enter; by a pointer, when it is let go, even
 * where that leaves it as it was.
 */
export const listener: DeviceListener<SliderDevice> = (devices, stage, send) => {
  const { give, of, stop } = listenToFields(devices, stage, send);
  let pointed: SliderDevice[] = [];
  const pointerdown = (event: Event) => {
    pointed = of(event).filter(({ confirm }) => confirm === null);
  };
  const pointerup = (event: PointerEvent) => {
    const letGo = pointed;
    pointed = [];
    for (const device of letGo) give(device, event.timeStamp);
  };
  stage.root.addEventListener("pointerdown", pointerdown);
  addEventListener("pointerup", pointerup);
  return () => {
    stop();
    stage.root.removeEventListener("pointerdown", pointerdown);
    removeEventListener("pointerup", pointerup);
  };
};
