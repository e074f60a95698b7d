import { dataColumn, tenth } from "../values/data-column";
import type { Context } from "../values/context";
import type { NewId } from "../values/ref";
import { resolveNumber } from "../values/resolve";
import { anyMeasure, someMeasure, type FirstFile, type ItemColumn, type MediaNeed, type Measure } from "./kind";
import { itemKind, type Item, type ItemKind } from "./registry";

/** A new item of a kind. `first` gives the study's first media file of a kind, for kinds that show one. */
export const newItem = (newId: NewId, kind: ItemKind, name: string, first: FirstFile = () => ""): Item =>
  itemKind(kind).make(newId, name, first);

/** Every number an item is drawn by, each with the smallest that can be drawn. */
export function measuresOf(item: Item): Measure[] {
  const measures: Measure[] = [];
  if ("at" in item)
    measures.push(
      { what: "its x", value: item.at.x, least: anyMeasure },
      { what: "its y", value: item.at.y, least: anyMeasure },
      { what: "its turn", value: item.turned, least: anyMeasure },
    );
  if ("size" in item)
    measures.push(
      { what: "its width", value: item.size.w, least: someMeasure },
      { what: "its height", value: item.size.h, least: someMeasure },
    );
  if (item.begins !== undefined) measures.push({ what: "its beginning", value: item.begins, least: 0 });
  if (item.ends !== undefined) measures.push({ what: "its end", value: item.ends, least: 0 });
  return [...measures, ...itemKind(item.kind).measures(item)];
}

/** The media files an item needs. */
export const mediaOf = (item: Item): MediaNeed[] => itemKind(item.kind).media(item);

/** Whether it plays something that can come to an end. */
export const isPlayed = ({ kind }: Item): boolean => itemKind(kind).playsMs !== undefined;

/** For how long the longest sound or video of these plays, in milliseconds from their scene's onset; 0 where there is none that ends. */
export const playedMs = (items: readonly Item[], context: Context): number =>
  Math.max(
    0,
    ...items.map((item) => {
      const begins = item.begins === undefined ? 0 : (resolveNumber(item.begins, context) ?? 0);
      return begins + (itemKind(item.kind).playsMs?.(item, context) ?? 0);
    }),
  );

const moments = { began: "came on or began to play", ended: "went or came to its end" } as const;
const momentColumns = (["began", "ended"] as const).map((what): ItemColumn =>
  dataColumn(
    `${what}_ms`,
    "number",
    `when it ${moments[what]}, from the session's start`,
    ({ observed }) => {
      const first = observed.find((each) => each.what === what);
      return first ? tenth(first.at) : null;
    },
    { unit: "milliseconds" },
  ),
);

/** The columns of the exported data that an item has. */
export function columnsOf(item: Item): ItemColumn[] {
  const hasOwnTime = item.begins !== undefined || item.ends !== undefined;
  return [...(hasOwnTime || isPlayed(item) ? momentColumns : []), ...(itemKind(item.kind).columns?.(item) ?? [])];
}
