import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** Figures that are kept for a paper. */
export const paperMigrations: Record<string, Migration> = {
  "0028_paper": {
    up: async (db: Any) => {
      await db.schema
        .createTable("paper_piece")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        // Where it stands among the others.
        .addColumn("place", "integer", (c) => c.notNull())
        .addColumn("piece", "text", (c) => c.notNull())
        .addColumn("with_table", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("paper_piece_study").on("paper_piece").columns(["study_id", "place"]).execute();
    },
  },
};
