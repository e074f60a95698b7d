import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** Scores over trials, and the samples against which scores are read. */
export const personsMigrations: Record<string, Migration> = {
  "0027_scores_and_norms": {
    up: async (db: Any) => {
      await db.schema
        .createTable("trial_score")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("score", "text", (c) => c.notNull())
        // Counted up with each change, so that two persons who change it at once are told.
        .addColumn("version", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("trial_score_study").on("trial_score").column("study_id").execute();
      await db.schema
        .createTable("norm_sample")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("norm", "text", (c) => c.notNull())
        // One of a score's at most is the one against which it is read.
        .addColumn("is_used", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("norm_sample_study").on("norm_sample").column("study_id").execute();
    },
  },
};
