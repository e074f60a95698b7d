import { itemKinds, type Item, type ItemKind } from "~/core/items/registry";
import { byFileName } from "../by-file-name";
import type { ItemDrawer } from "./item-drawer";

/** Each kind's drawer stands in the file of its name; nothing else registers it. */
const drawers = byFileName<ItemKind, ItemDrawer<Item>>(
  import.meta.glob(["./items/*.ts", "!./items/*.test.ts"], { eager: true, import: "drawer" }),
  itemKinds,
);

/** The drawer of an item's kind. */
export const drawerOf = ({ kind }: Item): ItemDrawer<Item> => drawers[kind];
