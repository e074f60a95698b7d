import type { TypedDevice } from "~/core/devices/typed/typed";
import type { DeviceListener } from "../device-listener";
import { listenToFields } from "../field-listener";

export const listener: DeviceListener<TypedDevice> = (devices, stage, send) =>
  listenToFields(devices, stage, send).stop;
