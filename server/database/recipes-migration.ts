import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** Files that are made of a study again and again. */
export const recipeMigrations: Record<string, Migration> = {
  "0025_recipes": {
    up: async (db: Any) => {
      await db.schema
        .createTable("recipe")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("name", "text", (c) => c.notNull())
        // Its part of the address, which stays when it is renamed.
        .addColumn("address", "text", (c) => c.notNull())
        .addColumn("recipe", "text", (c) => c.notNull())
        // Counted up with each change, so that two persons who change it at once are told.
        .addColumn("version", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .addColumn("reads", "integer", (c) => c.notNull())
        .addColumn("read_at", "text")
        .execute();
      await db.schema.createIndex("recipe_address").unique().on("recipe").columns(["study_id", "address"]).execute();
    },
  },
};
