import type { AnswerDevice, DeviceName } from "~/core/devices/registry";
import type { DeviceListener } from "./device-listener";

const known = new Map<DeviceName, DeviceListener<AnswerDevice>>();

/** Takes the listener of a device: from then on answers by it can be heard. */
export const addListener = (name: DeviceName, { listener }: { listener: unknown }): void =>
  void known.set(name, listener as DeviceListener<AnswerDevice>);

/** The listener of a device, which was added before. */
export function listenerOf(name: DeviceName): DeviceListener<AnswerDevice> {
  const listener = known.get(name);
  if (!listener) throw new Error(`What hears “${name}” was not loaded`);
  return listener;
}
