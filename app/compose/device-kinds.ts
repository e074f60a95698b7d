import { byFileName } from "~/player/by-file-name";
import { deviceNames, type AnswerDevice, type DeviceName } from "~/core/devices/registry";
import type { DeviceSettings } from "./device-settings";

/** Each device's settings stand in the file of its name; nothing else registers them. */
const settings = byFileName<DeviceName, DeviceSettings<AnswerDevice>>(
  import.meta.glob(["./answers/*.tsx", "!./answers/*.test.tsx"], { eager: true, import: "settings" }),
  deviceNames,
);

export const settingsOfDevice = (device: DeviceName): DeviceSettings<AnswerDevice> => settings[device];
