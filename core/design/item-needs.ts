import type { MediaKind } from "./media-types";
import type { Bindable, Item, ItemKind, Scalar } from "./types";

/** A number an item is drawn by: how it is called in messages, and the smallest one that can be drawn. */
export type Measure = { what: string; value: Bindable<Scalar>; least: number };
export type MediaNeed = { kind: MediaKind; value: Bindable<string> };
type Needs<T extends Item> = { measures: (item: T) => Measure[]; media: (item: T) => MediaNeed[] };

const any = -Infinity;
const some = 0.01;
const nothing = () => [];
const letters = ({ fontSize }: { fontSize: Bindable<number> }): Measure[] => [
  { what: "its letter size", value: fontSize, least: some },
];

const needs: { [K in ItemKind]: Needs<Extract<Item, { kind: K }>> } = {
  text: {
    measures: (item) => [...letters(item), { what: "its width", value: item.width, least: some }],
    media: nothing,
  },
  image: {
    measures: ({ opacity }) => [{ what: "its opacity", value: opacity, least: 0 }],
    media: ({ picture }) => [{ kind: "picture", value: picture }],
  },
  shape: {
    measures: ({ lineWidth, corners, gap, opacity }) => [
      { what: "its line width", value: lineWidth, least: 0 },
      { what: "its number of corners", value: corners, least: 2 },
      { what: "its gap", value: gap, least: 0 },
      { what: "its opacity", value: opacity, least: 0 },
    ],
    media: nothing,
  },
  grating: {
    measures: ({ frequency, phase, contrast, mean, drift }) => [
      { what: "its frequency", value: frequency, least: 0.0001 },
      { what: "its phase", value: phase, least: any },
      { what: "its contrast", value: contrast, least: 0 },
      { what: "its mean luminance", value: mean, least: 0 },
      { what: "its drift", value: drift, least: any },
    ],
    media: nothing,
  },
  array: {
    measures: ({ count, element }) => [
      { what: "its number of elements", value: count, least: 0 },
      { what: "the size of its elements", value: element, least: some },
    ],
    media: ({ target, others }) =>
      [target, others].flatMap(({ form, picture }) =>
        form === "picture" ? [{ kind: "picture" as const, value: picture }] : [],
      ),
  },
  sound: {
    measures: ({ source, volume, balance }) => [
      { what: "its volume", value: volume, least: 0 },
      { what: "its balance", value: balance, least: -100 },
      ...(source.from === "file" ? [] : [{ what: "its length", value: source.ms, least: 0 }]),
      ...(source.from === "tone" ? [{ what: "its frequency", value: source.hertz, least: some }] : []),
    ],
    media: ({ source }) => (source.from === "file" ? [{ kind: "sound", value: source.file }] : []),
  },
  video: {
    measures: ({ volume }) => [{ what: "its volume", value: volume, least: 0 }],
    media: ({ file }) => [{ kind: "video", value: file }],
  },
  web: {
    measures: nothing,
    media: ({ page }) => (page.from === "file" ? [{ kind: "page", value: page.file }] : []),
  },
  button: { measures: letters, media: nothing },
  entry: { measures: letters, media: nothing },
  slider: { measures: letters, media: nothing },
};
const needsOf = (item: Item) => needs[item.kind] as unknown as Needs<Item>;

/** Every number an item is drawn by, each with the smallest that can be. */
export function measuresOf(item: Item): Measure[] {
  const measures: Measure[] = [];
  if ("at" in item)
    measures.push(
      { what: "its x", value: item.at.x, least: any },
      { what: "its y", value: item.at.y, least: any },
      { what: "its turn", value: item.turned, least: any },
    );
  if ("size" in item)
    measures.push(
      { what: "its width", value: item.size.w, least: some },
      { what: "its height", value: item.size.h, least: some },
    );
  if (item.begins !== undefined) measures.push({ what: "its beginning", value: item.begins, least: 0 });
  if (item.ends !== undefined) measures.push({ what: "its end", value: item.ends, least: 0 });
  return [...measures, ...needsOf(item).measures(item)];
}

/** The media files an item needs. */
export const mediaOf = (item: Item): MediaNeed[] => needsOf(item).media(item);
