import { list, object, variant } from "../shape/compound";
import { oneOf, only, readableName } from "../shape/plain";
import type { Of } from "../shape/shape";
import type { Operand } from "../values/calculation";
import { operand } from "../values/operand";
import { id, type Value } from "../values/ref";

const answerHow = oneOf("given", "right", "wrong");

/** What a marker of a block can mark. */
const inBlock = {
  "block-begins": object({ on: only("block-begins") }),
  "block-ends": object({ on: only("block-ends") }),
  /** With its first scene. */
  "trial-begins": object({ on: only("trial-begins") }),
  "trial-ends": object({ on: only("trial-ends") }),
  "scene-begins": object({ on: only("scene-begins"), scene: id }),
  /** With its scene, or at its own time. */
  "item-begins": object({ on: only("item-begins"), item: id }),
  answer: object({ on: only("answer"), answer: id, how: answerHow }),
};
const ofSession = {
  "session-begins": object({ on: only("session-begins") }),
  "session-ends": object({ on: only("session-ends") }),
};
const name = readableName(60);

/**
 * A labelled moment of a block that devices and data are told of. Its value is a number from 1 to 255 or a text, written, taken
 * from a column or computed.
 */
export const marker = object({ id, name, at: variant("on", inBlock), value: operand });
export type Marker = Of<typeof marker>;
export type Marked = Marker["at"];
export const markers = list(marker, 0, 200);

export const sessionMarker = object({ id, name, at: variant("on", ofSession), value: operand });
export type SessionMarker = Of<typeof sessionMarker>;
export const sessionMarkers = list(sessionMarker, 0, 20);
export type AnyMarker = { id: string; name: string; at: Marked | SessionMarker["at"]; value: Operand };

/** The longest value that goes out. */
const mostCharacters = 60;

/** A value as it goes out: whole numbers as such, yes and no as words, anything else as a text; null where there is none. */
export function sentValue(value: Value | null): string | null {
  if (value === null || value === "") return null;
  const text = Array.isArray(value)
    ? value.join("; ")
    : typeof value === "boolean"
      ? value
        ? "yes"
        : "no"
      : String(value);
  return text.trim().slice(0, mostCharacters) || null;
}

/** Whether a value goes out as a byte. */
export const isByte = (value: string): boolean => /^\d{1,3}$/.test(value) && Number(value) >= 1 && Number(value) <= 255;
