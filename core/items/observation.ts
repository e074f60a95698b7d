import { object } from "../shape/compound";
import { number, oneOf, text, whole } from "../shape/plain";
import { optional, type Of } from "../shape/shape";

/** Session time in records: milliseconds from the session's start. */
export const sessionTime = number({ least: 0, most: 1e10 });
/** An id in a record. It is compared with the study's own, so that its form is not looked at. */
export const recordedId = text({ most: 60, missing: "is missing" });
/** What was typed, chosen or sent, at most so long. */
export const longValue = text({ most: 20_000 });

/** What the driver saw an item do: come on or begin to play, go or end, or send a value. */
export const observation = object({
  item: recordedId,
  what: oneOf("began", "ended", "value"),
  at: sessionTime,
  value: optional(longValue),
  /** By how many milliseconds a sound or video was later (or, below 0, earlier) than the frame it belongs to. */
  offset: optional(number()),
  /** How many frames of a video or a moving item were dropped or late while it was on. */
  lateFrames: optional(whole(0, 1e7)),
});
export type Observation = Of<typeof observation>;
