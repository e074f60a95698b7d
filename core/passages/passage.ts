import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, text, yesNo } from "../shape/plain";
import { optional, type Of } from "../shape/shape";
import { formattedText } from "../values/formatted-text";
import { id, type Id } from "../values/ref";
import type { MediaKind } from "../media/types";

/*
 * What stands on a page beside its questions. Widths are in per cent of the page's, times in seconds.
 */

const seconds = number({ least: 0, most: 36_000 });
const width = number({ least: 5, most: 100 });
/** Which part of a sound or video is played, and whether participants can play it again. */
const played = { begins: optional(seconds), ends: optional(seconds), plays: oneOf("controls", "once") };

const written = object({ kind: only("text"), id, text: formattedText });
const picture = object({ kind: only("picture"), id, file: text({ most: 60 }), width, says: text({ most: 1000 }) });
const sound = object({ kind: only("sound"), id, file: text({ most: 60 }), ...played });
const video = object({ kind: only("video"), id, file: text({ most: 60 }), width, ...played });
const rule = object({ kind: only("rule"), id });
const table = object({
  kind: only("table"),
  id,
  /** Its rows, each with as many cells; the first is the head where there is one. */
  rows: list(list(text({ most: 2000 }), 1, 20), 1, 200),
  hasHead: yesNo,
});
/** Only pages that come encrypted can stand in a page that does. */
export const siteAddress = text({
  most: 2000,
  pattern: /^https?:\/\/[^\s/]\S*$/i,
  otherwise: "must be a web address that begins with https:// or http://",
});
const site = object({
  kind: only("site"),
  id,
  address: siteAddress,
  width,
  /** In pixels. */
  height: number({ least: 40, most: 2000 }),
});

const kinds = { text: written, picture, sound, video, rule, table, site };
export type PassageKind = keyof typeof kinds;
export const passageShapes = kinds;
export const passageShape = variant("kind", kinds);
/** A piece of a page that asks nothing. */
export type Passage = Of<typeof passageShape>;
export type PassageOf<K extends PassageKind> = Extract<Passage, { kind: K }>;

/** What passages are called. */
export const passagesInWords: Record<PassageKind, string> = {
  text: "text",
  picture: "picture",
  sound: "sound",
  video: "video",
  rule: "line between",
  table: "table",
  site: "page of another site",
};

/** The media file a passage shows or plays, if it is of such a kind. */
export const fileOf = (passage: { kind: string; file?: Id }): { kind: MediaKind; file: Id } | null =>
  passage.kind === "picture" || passage.kind === "sound" || passage.kind === "video"
    ? { kind: passage.kind, file: passage.file ?? "" }
    : null;
