import type { Item, ItemKind } from "~/core/design/types";
import { image } from "./image";
import type { ItemDrawer } from "./kind";
import { shape } from "./shape";
import { text } from "./text";

const drawers = { text, image, shape } satisfies { [K in ItemKind]: ItemDrawer<Extract<Item, { kind: K }>> };

/** The drawer of an item's kind. */
export const drawerOf = (item: Item): ItemDrawer<Item> => drawers[item.kind] as unknown as ItemDrawer<Item>;
