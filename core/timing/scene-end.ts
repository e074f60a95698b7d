import type { Block } from "../design/block";
import type { SceneEnd } from "../records/record";

/** When a scene that lasts a time of its own is over; times in milliseconds of the same clock. */
export type PlannedEnd = {
  onset: number;
  /** The time it was to end at. */
  due: number;
  /** The whole frames it is on for: the nearest number to its time, and at least one. */
  frames: number;
};

/** The end of a scene that is on from `onset`. `from` is where its time counts from: its own onset, or an earlier due time. */
export function plannedEnd(onset: number, lastsMs: number, frameMs: number, from = onset): PlannedEnd {
  const due = from + lastsMs;
  return { onset, due, frames: Math.max(1, Math.round((due - onset) / frameMs)) };
}

/**
 * Whether a scene ends with the frame stamped so. A frame's stamp is a little off and so is the measured length of a frame,
 * whose error grows with the number of frames: what decides lies half-way between half a frame before the due time and
 * half a frame before the last of its frames, at least a quarter of a frame away from either neighbour. Where frames are
 * of no fixed length none are counted, and the due time alone decides.
 */
export function endsAt(
  { onset, due, frames }: PlannedEnd,
  stamp: number,
  frameMs: number,
  isVariable = false,
): boolean {
  const beyond = isVariable ? 0 : (due - onset) / frameMs - frames;
  return stamp >= due - (0.5 + beyond / 2) * frameMs;
}

/** The time of the frame with which a scene ends, as far as it can be foreseen. */
export const foreseenEnd = ({ onset, due, frames }: PlannedEnd, frameMs: number, isVariable: boolean): number =>
  isVariable ? due : onset + frames * frameMs;

/**
 * From when the next scene's time counts: its own onset (none), or, in a block whose trials are timed as a whole, the due
 * time of a scene that ended by its time.
 */
export const countsFrom = (
  { timedFrom }: Pick<Block, "timedFrom">,
  before: PlannedEnd | null,
  by: SceneEnd["by"] | undefined,
): number | undefined => (timedFrom === "trial" && by === "time" ? before?.due : undefined);
