import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** What researchers decide about data that are in: which of them are left out of results. */
export const exclusionMigrations: Record<string, Migration> = {
  "0024_exclusions": {
    up: async (db: Any) => {
      await db.schema
        .createTable("exclusion_set")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("rules", "text", (c) => c.notNull())
        // Counted up with each change, so that two persons who change it at once are told.
        .addColumn("version", "integer", (c) => c.notNull())
        .addColumn("is_used", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .addColumn("registered", "text")
        .execute();
      await db.schema.createIndex("exclusion_set_study").on("exclusion_set").column("study_id").execute();
    },
  },
};
