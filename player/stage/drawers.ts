import type { Item, ItemKind } from "~/core/items/registry";
import type { ItemDrawer } from "./item-drawer";

type Loaded = { drawer: unknown };
const known = new Map<ItemKind, ItemDrawer<Item>>();

/** Takes the drawer of a kind: from then on items of it can be drawn. */
export const addDrawer = (kind: ItemKind, { drawer }: Loaded): void => void known.set(kind, drawer as ItemDrawer<Item>);

/** The drawer of an item's kind, which was added before. */
export function drawerOf({ kind }: Item): ItemDrawer<Item> {
  const drawer = known.get(kind);
  if (!drawer) throw new Error(`What draws “${kind}” was not loaded`);
  return drawer;
}
