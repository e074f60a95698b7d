import type { Kysely, Migration } from "kysely";

type Any = Kysely<unknown>;

/** What ends of links, what those bring who come, and the live view of Collect need. */
export const collectingMigrations: Record<string, Migration> = {
  "0017_ends": {
    up: async (db: Any) => {
      await db.schema
        .createTable("end_code")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("link", "text", (c) => c.notNull())
        .addColumn("ending", "text", (c) => c.notNull())
        .addColumn("place", "integer", (c) => c.notNull())
        .addColumn("code", "text", (c) => c.notNull())
        .addColumn("given_at", "text")
        .addPrimaryKeyConstraint("end_code_key", ["link", "ending", "code"])
        .execute();
      await db.schema
        .createIndex("end_code_next")
        .on("end_code")
        .columns(["link", "ending", "given_at", "place"])
        .execute();
      await db.schema.createIndex("end_code_study").on("end_code").column("study_id").execute();
      await db.schema
        .createTable("came_with")
        .addColumn("session_id", "text", (c) => c.primaryKey().references("session.id"))
        .addColumn("parameters", "text", (c) => c.notNull())
        .execute();
    },
  },
  "0018_unsuited": {
    up: async (db: Any) => {
      await db.schema
        .createTable("unsuited")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("link", "text", (c) => c.notNull())
        .addColumn("why", "text", (c) => c.notNull())
        .addColumn("count", "integer", (c) => c.notNull())
        .addPrimaryKeyConstraint("unsuited_key", ["link", "why"])
        .execute();
      await db.schema.createIndex("unsuited_study").on("unsuited").column("study_id").execute();
      await db.schema.alterTable("session").addColumn("ends_by", "text").execute();
    },
  },
  "0019_live": {
    up: async (db: Any) => {
      for (const name of ["scenes", "late", "looked_away", "attempt", "waiting"])
        await db.schema
          .alterTable("session")
          .addColumn(name, "integer", (c) => c.notNull().defaultTo(0))
          .execute();
      await db.schema.createIndex("session_seen").on("session").columns(["study_id", "seen_at"]).execute();
      await db.schema.alterTable("session").addColumn("excluded_because", "text").execute();
      await db.schema
        .createTable("session_note")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("at", "text", (c) => c.notNull())
        .addColumn("by_whom", "text", (c) => c.notNull())
        .addColumn("text", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("session_note_session").on("session_note").columns(["session_id", "at"]).execute();
    },
  },
};
