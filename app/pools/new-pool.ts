import { newId } from "~/app/editing/new-id";
import { freeTitle } from "~/core/values/names";
import type { Pool } from "~/core/values/pool";

/** An empty pool with one column to type into. */
export const newPool = (names: string[]): Pool => ({
  id: newId("pool"),
  name: freeTitle("Pool", names),
  table: { columns: [{ id: newId("column"), name: "item", type: "text", factor: false }], rows: [] },
});
