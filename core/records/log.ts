import { list, object } from "../shape/compound";
import { number, oneOf, text, whole, yesNo } from "../shape/plain";
import { hasShape, nullable, optional, type Of } from "../shape/shape";
import { sessionTime } from "../items/observation";

/** What can be logged beside the records: what the computer, the window and the network did, and every raw input. */
export const logKinds = [
  "opened",
  "display",
  "refresh",
  "focus-lost",
  "focus-back",
  "hidden",
  "visible",
  "full-screen-left",
  "full-screen-back",
  "resized",
  "turned",
  "pixel-ratio",
  "network-away",
  "network-back",
  "paused",
  "went-on",
  "key-down",
  "key-up",
  "pointer-down",
  "sound",
  "clock-back",
  "check",
  "placed",
  "marker",
  "bridge-here",
  "bridge-away",
  "bridge-clock",
  "gaze",
  "gaze-away",
  "gaze-calibration",
  "gaze-validation",
] as const;
const logKind = oneOf(...logKinds);
export type LogKind = Of<typeof logKind>;

const logEntry = object({
  at: sessionTime,
  what: logKind,
  /** The trial it fell into. */
  trial: optional(whole(1, 1e7)),
  value: optional(text({ most: 2000 })),
});
export type LogEntry = Of<typeof logEntry>;

/** Entries that were written together. Opening and number name the chunk, so that the same one sent twice is stored once. */
export const logChunk = object({
  /** Tells one loading of the page from another. */
  opening: text({ missing: "is missing", pattern: /^[\w-]{1,24}$/ }),
  /** Counts from 1 within an opening. */
  number: whole(1, 1e7),
  entries: list(logEntry, 0, 3000),
});
export type LogChunk = Of<typeof logChunk>;

const display = object({
  /** The measured length of a frame. */
  refreshMs: number({ least: 0.1, most: 1e4 }),
  /** Standard deviation of the frames measured, in milliseconds. */
  refreshSd: number({ least: 0, most: 1e4 }),
  width: number({ least: 0, most: 1e5 }),
  height: number({ least: 0, most: 1e5 }),
  pixelRatio: number({ least: 0, most: 100 }),
  isolated: yesNo,
  /** Latency of sound output as the browser reports it, in milliseconds; null without sound. */
  soundLatencyMs: nullable(number({ least: -1e6, most: 1e6 })),
  /** Its refresh follows the drawing: `refreshMs` is the middle one, and no number of frames is planned. Earlier players did not tell. */
  variable: optional(yesNo),
});
/** What is known of the display a session was played on. */
export type Display = Of<typeof display>;

/** The display a player says it measured; null where that is no display. */
export function displayIn(said: string | null): Display | null {
  if (said === null) return null;
  try {
    const value: unknown = JSON.parse(said);
    return hasShape(display, value) ? value : null;
  } catch {
    return null;
  }
}
