import { itemKinds, type ItemKind } from "~/core/items/registry";
import { byFileName } from "../by-file-name";
import { addDrawer } from "./drawers";

/*
 * Every kind's drawer at once, for whoever designs. Each stands in the file of its name; nothing else registers it.
 */
const all = byFileName<ItemKind, { drawer: unknown }>(
  import.meta.glob(["./items/*.ts", "!./items/*.test.ts"], { eager: true }),
  itemKinds,
);
for (const kind of itemKinds) addDrawer(kind, all[kind]);
