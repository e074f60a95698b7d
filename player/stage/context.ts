import type { Id } from "~/core/values/ref";
import type { Context } from "~/core/values/context";

/** Gives the address from which a media file can be drawn; null where the file is missing. */
export type MediaUrl = (id: Id) => string | null;
/** `pixelsPerUnit`: device pixels in one stage unit, for what is drawn as a bitmap. */
export type Drawing = { context: Context; mediaUrl: MediaUrl; pixelsPerUnit: number };

/** Device pixels in one unit of a stage of this size in CSS pixels. */
export const pixelsPerUnit = (width: number, height: number): number =>
  (Math.min(width, height) / 100) * (globalThis.devicePixelRatio || 1);
