import { nullable } from "../shape/shape";
import { fixedDuration } from "../values/amounts";
import type { Context } from "../values/context";
import { resolve } from "../values/resolve";
import type { Bindable } from "../values/ref";
import type { ItemColumn } from "./kind";
import { dataColumn } from "../values/data-column";

/** From where to where a sound or video file is played, in milliseconds of the file; null is its end. */
export const excerpt = { startMs: fixedDuration, stopMs: nullable(fixedDuration) };
export type Excerpt = { startMs: number; stopMs: number | null };

/** How long an excerpt of a file plays, in milliseconds; 0 where the file's length is not known. */
export function excerptMs(file: Bindable<string>, { startMs, stopMs }: Excerpt, context: Context): number {
  const id = resolve(file, context);
  const whole = context.study.media.find((each) => each.id === id)?.ms ?? 0;
  return Math.max(0, (stopMs ?? whole) - startMs);
}

/** By how much a sound or video came later than its frame. */
export const offsetColumn: ItemColumn = dataColumn(
  "offset_ms",
  "number",
  "by how much it was later (below 0: earlier) than the frame it belongs to, as far as the browser can tell",
  ({ observed }) => observed.find(({ what }) => what === "began")?.offset ?? null,
  { unit: "milliseconds" },
);

/** Frames of a video or a moving item that did not come in time. */
export const lateFramesColumn: ItemColumn = dataColumn(
  "late_frames",
  "whole number",
  "frames of it that were dropped or late while it was on",
  ({ observed }) => observed.find(({ what }) => what === "ended")?.lateFrames ?? null,
  { unit: "frames" },
);
