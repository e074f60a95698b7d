import type { KeyDevice } from "../../design/types";
import { resolve } from "../resolve";
import { sameKey, type DeviceRules } from "./device";

export const keys: DeviceRules<KeyDevice> = {
  accepts: (device, { value, place, act = "press", heldMs = 0 }, context) => {
    if (act !== device.act || (act === "hold" && heldMs < device.holdMs)) return null;
    const pressed = device.by === "place" ? (place ?? "") : value;
    const allowed = device.keys.some((key) => sameKey(String(resolve(key, context) ?? ""), pressed));
    return allowed && pressed !== "" ? pressed : null;
  },
  possible: (device, context) =>
    device.keys.map((key) => {
      const value = String(resolve(key, context) ?? "");
      return { device: "keys", value, place: value, act: device.act, heldMs: device.holdMs };
    }),
};

/** The key at a place of the keyboard by what a US keyboard has there: `KeyQ` is q, `Digit1` is 1, others by their name. */
export function placeOfKey(code: string): string {
  const letter = /^Key([A-Z])$/.exec(code)?.[1];
  if (letter) return letter.toLowerCase();
  return /^Digit(\d)$/.exec(code)?.[1] ?? code;
}
