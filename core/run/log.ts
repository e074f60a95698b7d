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
] as const;
export type LogKind = (typeof logKinds)[number];

/** One event; `at` in milliseconds from the session's start, `trial` the trial it fell into. */
export type LogEntry = { at: number; what: LogKind; trial?: number | undefined; value?: string | undefined };
/**
 * Entries that were written together. `opening` tells one loading of the page from another, `number` runs from 1 within
 * it: together they name the chunk, so that the same one sent twice is stored once.
 */
export type LogChunk = { opening: string; number: number; entries: LogEntry[] };

/** What is known of the display a session was played on; `refreshMs` is the measured length of a frame. */
export type Display = {
  refreshMs: number;
  /** Its refresh follows the drawing: `refreshMs` is the middle one, and no number of frames is planned. Not told by players of before. */
  variable?: boolean | undefined;
  /** Standard deviation of the frames measured, in milliseconds. */
  refreshSd: number;
  width: number;
  height: number;
  pixelRatio: number;
  isolated: boolean;
  /** Latency of sound output as the browser reports it, in milliseconds; null without sound. */
  soundLatencyMs: number | null;
};
