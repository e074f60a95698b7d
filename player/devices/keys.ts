import type { Input } from "~/core/devices/input";
import { placeOfKey, type KeyDevice } from "~/core/devices/keys/keys";
import { isField, keyName, targetOf, type DeviceListener } from "../device-listener";

export const listener: DeviceListener<KeyDevice> = (devices, { root }, send) => {
  const holds = [...new Set(devices.flatMap(({ act, holdMs }) => (act === "hold" ? [holdMs] : [])))];
  const held = new Map<string, ReturnType<typeof setTimeout>[]>();
  const input = (event: KeyboardEvent, act: Input["act"], heldMs?: number): Input => ({
    device: "keys",
    value: keyName(event),
    place: placeOfKey(event.code),
    act,
    ...(heldMs === undefined ? {} : { heldMs }),
  });
  const isOurs = (event: KeyboardEvent) => {
    const target = targetOf(event);
    if (event.ctrlKey || event.metaKey || event.altKey || isField(target)) return false;
    // A button or slider that has the focus is worked by these keys.
    const isControl = target !== null && ["button", "input"].includes(target.localName) && root.contains(target);
    return !(isControl && (event.key === "Enter" || event.key === " " || event.key.startsWith("Arrow")));
  };
  const down = (event: KeyboardEvent) => {
    if (!isOurs(event)) return;
    if (event.key === " " || event.key.startsWith("Arrow")) event.preventDefault();
    if (event.repeat) return;
    send(input(event, "press"), event.timeStamp);
    const timers = holds.map((ms) => setTimeout(() => send(input(event, "hold", ms), event.timeStamp), ms));
    if (timers.length > 0) held.set(event.code, timers);
  };
  const up = (event: KeyboardEvent) => {
    held.get(event.code)?.forEach(clearTimeout);
    held.delete(event.code);
    if (isOurs(event)) send(input(event, "release"), event.timeStamp);
  };
  addEventListener("keydown", down, true);
  addEventListener("keyup", up, true);
  return () => {
    removeEventListener("keydown", down, true);
    removeEventListener("keyup", up, true);
    held.forEach((timers) => timers.forEach(clearTimeout));
  };
};
