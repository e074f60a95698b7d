import { byFileName } from "~/player/by-file-name";
import { itemKinds, type Item, type ItemKind } from "~/core/items/registry";
import type { ItemSettings } from "./item-fields";

/** Each kind's settings stand in the file of its name; nothing else registers them. */
const settings = byFileName<ItemKind, ItemSettings<Item>>(
  import.meta.glob(["./items/*.tsx", "!./items/*.test.tsx"], { eager: true, import: "settings" }),
  itemKinds,
);

export const settingsOf = (kind: ItemKind): ItemSettings<Item> => settings[kind];
