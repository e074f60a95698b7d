import type { Item, ItemKind } from "~/core/design/types";
import { array } from "./array";
import { button, entry, slider } from "./controls";
import { grating } from "./grating";
import { image } from "./image";
import type { ItemDrawer } from "./kind";
import { shape } from "./shape";
import { sound } from "./sound";
import { text } from "./text";
import { video } from "./video";
import { web } from "./web";

const drawers = { text, image, shape, grating, array, sound, video, web, button, entry, slider } satisfies {
  [K in ItemKind]: ItemDrawer<Extract<Item, { kind: K }>>;
};

/** The drawer of an item's kind. */
export const drawerOf = (item: Item): ItemDrawer<Item> => drawers[item.kind] as unknown as ItemDrawer<Item>;
