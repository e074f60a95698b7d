import { list, object } from "../../shape/compound";
import { oneOf, only, text } from "../../shape/plain";
import type { Of } from "../../shape/shape";
import { fixedDuration } from "../../values/amounts";
import { bindable } from "../../values/ref";
import { resolve } from "../../values/resolve";
import type { DeviceKindOf } from "../kind";

const shape = object({
  device: only("keys"),
  keys: list(bindable(text({ missing: "is missing" })), 0, 100),
  /**
   * By the letter they type (the event's `key`, lower case) or by their position on the keyboard (the letter a US keyboard has
   * there); `Space` for the space bar.
   */
  by: oneOf("letter", "place"),
  /** Held: the answer is the press, once it has lasted `holdMs`. */
  act: oneOf("press", "release", "hold"),
  holdMs: fixedDuration,
});
export type KeyDevice = Of<typeof shape>;

export const newKeys = (keys: KeyDevice["keys"]): KeyDevice => ({
  device: "keys",
  keys,
  by: "letter",
  act: "press",
  holdMs: 0,
});

/** Keys are compared without case, since caps lock is not an answer. */
const sameKey = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();

/** `f` as `F`; named keys as they are. */
export const keyLabel = (key: string): string =>
  key.length === 1 ? key.toUpperCase() : key.replace(/^Arrow/, "arrow ");

/** The key at a place of the keyboard by what a US keyboard has there: `KeyQ` is q, `Digit1` is 1, others by their name. */
export function placeOfKey(code: string): string {
  const letter = /^Key([A-Z])$/.exec(code)?.[1];
  if (letter) return letter.toLowerCase();
  return /^Digit(\d)$/.exec(code)?.[1] ?? code;
}

export const keys: DeviceKindOf<KeyDevice> = {
  shape,
  make: () => newKeys(["f", "j"]),
  accepts: (device, { value, place, act = "press", heldMs = 0 }, context) => {
    if (act !== device.act || (act === "hold" && heldMs < device.holdMs)) return null;
    const pressed = device.by === "place" ? (place ?? "") : value;
    // Stored as the design spells it: with Shift or caps lock the same key types another letter.
    const allowed = device.keys.map((key) => String(resolve(key, context) ?? ""));
    return pressed === "" ? null : (allowed.find((key) => sameKey(key, pressed)) ?? null);
  },
  possible: (device, context) =>
    device.keys.map((key) => {
      const value = String(resolve(key, context) ?? "");
      return { device: "keys", value, place: value, act: device.act, heldMs: device.holdMs };
    }),
  items: () => [],
  isEmpty: (device) => device.keys.length === 0,
  inWords: (device, _, context) => {
    const act = { press: "", hold: ` held ${device.holdMs} ms`, release: " let go" }[device.act];
    return device.keys.map((key) => keyLabel(String(resolve(key, context) ?? "?")) + act);
  },
  areSame: sameKey,
  isPointed: false,
  called: {
    nothing: "no key yet",
    problem: "No key is allowed, so no one can answer. Add the keys in the margin.",
    all: "the allowed keys",
  },
};
