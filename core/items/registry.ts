import { shapesOf, variant } from "../shape/compound";
import type { Of } from "../shape/shape";
import { array } from "./array/array";
import { button } from "./button/button";
import { entry } from "./entry/entry";
import { grating } from "./grating/grating";
import { image } from "./image/image";
import type { ItemKindOf } from "./kind";
import { shape } from "./shape/shape";
import { slider } from "./slider/slider";
import { sound } from "./sound/sound";
import { text } from "./text/text";
import { video } from "./video/video";
import { web } from "./web/web";

/** The kinds of items, in the order in which they are offered. */
const kinds = { text, image, shape, grating, array, sound, video, web, button, entry, slider };

export type ItemKind = keyof typeof kinds;
export const itemKinds = Object.keys(kinds) as ItemKind[];
/** One thing on the stage or to be heard. */
export type Item = Of<(typeof kinds)[ItemKind]["shape"]>;
export type PositionedItem = Extract<Item, { at: unknown }>;
export type SizedItem = Extract<Item, { size: unknown }>;

export const itemShape = variant("kind", shapesOf(kinds));

/** What is known of a kind of item. */
export const itemKind = (kind: ItemKind): ItemKindOf<Item> => kinds[kind] as unknown as ItemKindOf<Item>;
