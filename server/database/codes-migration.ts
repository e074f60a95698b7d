import { sql, type Kysely, type Migration } from "kysely";
import { makeTidyTables } from "../tidy/database";
import { hasManyWriters } from "./locked";
import type { Tables } from "./tables";

type Any = Kysely<unknown>;

/** What leads from a session to a person stands in a table of its own from here on: codes, and what the link brought. */
export const codesMigrations: Record<string, Migration> = {
  "0021_codes_apart": {
    up: async (db: Any) => {
      await db.schema
        .createTable("session_codes")
        .addColumn("session_id", "text", (c) => c.primaryKey().references("session.id"))
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("participant_code", "text")
        .addColumn("completion_code", "text", (c) => c.notNull())
        .addColumn("go_on_code", "text")
        .addColumn("came_with", "text")
        .execute();
      await sql`insert into session_codes (session_id, study_id, participant_code, completion_code, go_on_code, came_with)
        select session.id, session.study_id, session.participant_code, session.code, session.go_on_code, came_with.parameters
        from session left join came_with on came_with.session_id = session.id
        where session.removed_at is null`.execute(db);
      for (const name of ["session_code", "session_go_on"]) await db.schema.dropIndex(name).execute();
      await db.schema.dropTable("came_with").execute();
      for (const name of ["participant_code", "go_on_code", "code"])
        await db.schema.alterTable("session").dropColumn(name).execute();
      for (const code of ["participant_code", "go_on_code"])
        await db.schema.createIndex(`session_codes_${code}`).on("session_codes").columns(["study_id", code]).execute();
    },
  },
  // Every record that arrives would move its session in it; what it served is asked of few sessions.
  "0022_seen": {
    up: async (db: Any) => {
      await db.schema.dropIndex("session_seen").execute();
    },
  },
  // On SQLite these lie in a file of their own.
  "0023_tidy": {
    up: async (db: Any) => {
      if (hasManyWriters(db as Kysely<Tables>)) await makeTidyTables(db.schema, "bytea");
    },
  },
};
