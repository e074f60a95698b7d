import { PostgresAdapter, sql, type Kysely, type Migration } from "kysely";
import type { Tables } from "./tables";
import { codesMigrations } from "./codes-migration";
import { collectingMigrations } from "./collecting-migrations";
import { exclusionMigrations } from "./exclusions-migration";
import { gazeMigrations } from "./gaze-migration";
import { movingMigrations } from "./moving-migration";
import { paperMigrations } from "./paper-migration";
import { personsMigrations } from "./persons-migration";
import { recipeMigrations } from "./recipes-migration";
import { teamMigrations } from "./team-migrations";
import { addWaves } from "./waves-migration";

type Any = Kysely<unknown>;

/** The type of a number the database counts up by itself; in SQLite any integer that is the primary key is one. */
const countedUp = (db: Any) => (db.getExecutor().adapter instanceof PostgresAdapter ? "serial" : "integer");

/** Forward only, applied by name order, each once. SQL here is what PostgreSQL understands too. */
export const migrations: Record<string, Migration> = {
  "0001_first": {
    up: async (db: Any) => {
      await db.schema
        .createTable("account")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("email", "text", (c) => c.notNull().unique())
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("password_hash", "text", (c) => c.notNull())
        .addColumn("is_demo", "integer", (c) => c.notNull())
        .addColumn("created_at", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createTable("sign_in")
        .addColumn("token_hash", "text", (c) => c.primaryKey())
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id").onDelete("cascade"))
        .addColumn("expires_at", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createTable("sign_in_try")
        .addColumn("id", countedUp(db), (c) => c.primaryKey())
        .addColumn("subject", "text", (c) => c.notNull())
        .addColumn("at", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("sign_in_try_subject").on("sign_in_try").columns(["subject", "at"]).execute();
      await db.schema
        .createTable("study")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("owner_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("code", "text", (c) => c.notNull().unique())
        .addColumn("document", "text", (c) => c.notNull())
        .addColumn("revision", "integer", (c) => c.notNull())
        .addColumn("created_at", "text", (c) => c.notNull())
        .addColumn("edited_at", "text", (c) => c.notNull())
        .addColumn("binned_at", "text")
        .addColumn("target", "integer")
        .execute();
      await db.schema.createIndex("study_owner").on("study").columns(["owner_id", "edited_at"]).execute();
      await db.schema
        .createTable("study_revision")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("revision", "integer", (c) => c.notNull())
        .addColumn("patches", "text", (c) => c.notNull())
        .addColumn("inverse", "text", (c) => c.notNull())
        .addColumn("saved_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("study_revision_key", ["study_id", "revision"])
        .execute();
      await db.schema
        .createTable("study_media")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("sha256", "text", (c) => c.notNull())
        .addColumn("mime", "text", (c) => c.notNull())
        .addColumn("bytes", "integer", (c) => c.notNull())
        .addColumn("added_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("study_media_key", ["study_id", "sha256"])
        .execute();
      await db.schema
        .createTable("release")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("number", "integer")
        .addColumn("revision", "integer", (c) => c.notNull())
        .addColumn("document", "text", (c) => c.notNull())
        .addColumn("note", "text", (c) => c.notNull())
        .addColumn("frozen_at", "text", (c) => c.notNull())
        .addUniqueConstraint("release_number", ["study_id", "number"])
        .execute();
      await db.schema
        .createTable("entry_link")
        .addColumn("token", "text", (c) => c.primaryKey())
        .addColumn("release_id", "text", (c) => c.notNull().references("release.id"))
        .addColumn("label", "text", (c) => c.notNull())
        .addColumn("open", "integer", (c) => c.notNull())
        .addColumn("created_at", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createTable("session")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("release_id", "text", (c) => c.notNull().references("release.id"))
        .addColumn("link_token", "text", (c) => c.references("entry_link.token"))
        .addColumn("token_hash", "text", (c) => c.notNull().unique())
        .addColumn("participant", "integer", (c) => c.notNull())
        .addColumn("group_id", "text", (c) => c.notNull())
        .addColumn("pilot", "integer", (c) => c.notNull())
        .addColumn("state", "text", (c) => c.notNull())
        .addColumn("records", "integer", (c) => c.notNull())
        .addColumn("trials", "integer", (c) => c.notNull())
        .addColumn("trials_planned", "integer", (c) => c.notNull())
        .addColumn("part", "text")
        .addColumn("code", "text", (c) => c.notNull())
        .addColumn("started_at", "text", (c) => c.notNull())
        .addColumn("seen_at", "text", (c) => c.notNull())
        .addColumn("finished_at", "text")
        .addColumn("browser", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createIndex("session_study")
        .on("session")
        .columns(["study_id", "pilot", "participant"])
        .execute();
      await db.schema
        .createTable("record")
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("number", "integer", (c) => c.notNull())
        .addColumn("kind", "text", (c) => c.notNull())
        .addColumn("body", "text", (c) => c.notNull())
        .addColumn("received_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("record_key", ["session_id", "number"])
        .execute();
      await db.schema
        .createTable("refused_record")
        .addColumn("id", countedUp(db), (c) => c.primaryKey())
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("number", "integer", (c) => c.notNull())
        .addColumn("body", "text", (c) => c.notNull())
        .addColumn("received_at", "text", (c) => c.notNull())
        .execute();
    },
  },
  "0002_named_versions": {
    up: async (db: Any) => {
      await db.schema
        .createTable("study_version")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("revision", "integer", (c) => c.notNull())
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("named_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("study_version_key", ["study_id", "revision"])
        .execute();
      await db.schema.createIndex("study_media_hash").on("study_media").column("sha256").execute();
    },
  },
  "0003_places": {
    up: async (db: Any) => {
      // Sessions from before had a group and nothing else to be spread over.
      for (const [name, type, start] of [
        ["orders", "text", "{}"],
        ["stratum", "text", ""],
        ["sitting", "integer", 1],
      ] as const)
        await db.schema
          .alterTable("session")
          .addColumn(name, type, (c) => c.notNull().defaultTo(start))
          .execute();
      for (const name of ["participant_code", "excluded_at"] as const)
        await db.schema.alterTable("session").addColumn(name, "text").execute();
      await db.schema.createIndex("session_code").on("session").columns(["study_id", "participant_code"]).execute();
    },
  },
  "0004_participants": {
    up: async (db: Any) => {
      for (const name of ["display", "removed_at"] as const)
        await db.schema.alterTable("session").addColumn(name, "text").execute();
      await db.schema
        .createTable("earlier_token")
        .addColumn("token_hash", "text", (c) => c.primaryKey())
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("replaced_at", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createTable("session_log")
        .addColumn("session_id", "text", (c) => c.notNull().references("session.id"))
        .addColumn("opening", "text", (c) => c.notNull())
        .addColumn("number", "integer", (c) => c.notNull())
        .addColumn("entries", "text", (c) => c.notNull())
        .addColumn("received_at", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("session_log_key", ["session_id", "opening", "number"])
        .execute();
      await db.schema
        .createTable("computer_test")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("computer", "text", (c) => c.notNull())
        .addColumn("at", "text", (c) => c.notNull())
        .addColumn("result", "text", (c) => c.notNull())
        .execute();
    },
  },
  "0005_amounts": {
    up: async (db: Any) => {
      await db.schema
        .alterTable("session")
        .addColumn("stored_characters", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
    },
  },
  "0006_sittings": {
    up: async (db: Any) => {
      await numberSittings(db as Kysely<Tables>);
      await db.schema
        .createIndex("session_sitting")
        .unique()
        .on("session")
        .columns(["study_id", "participant", "sitting"])
        .where(sql.ref("pilot"), "=", 0)
        .execute();
    },
  },
  "0007_judged_records": {
    up: async (db: Any) => {
      await db.schema
        .alterTable("refused_record")
        .addColumn("why", "text", (c) => c.notNull().defaultTo("taken"))
        .execute();
      await db.schema
        .createIndex("refused_record_session")
        .on("refused_record")
        .columns(["session_id", "number"])
        .execute();
    },
  },
  "0008_codes_to_go_on": {
    up: async (db: Any) => {
      await db.schema.alterTable("session").addColumn("go_on_code", "text").execute();
      await db.schema.createIndex("session_go_on").on("session").columns(["study_id", "go_on_code"]).execute();
    },
  },
  "0009_sign_ins": {
    up: async (db: Any) => {
      await db.schema.alterTable("account").addColumn("closed_at", "text").execute();
      for (const name of ["id", "since", "seen_at", "from_address", "browser"] as const)
        await db.schema
          .alterTable("sign_in")
          .addColumn(name, "text", (c) => c.notNull().defaultTo(""))
          .execute();
      await db.schema
        .alterTable("sign_in")
        .addColumn("stays", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      // Those from before could not be listed or ended one by one.
      await (db as Kysely<Tables>).deleteFrom("sign_in").execute();
      await (db as Kysely<Tables>).deleteFrom("sign_in_try").execute();
    },
  },
  "0010_intake": {
    up: async (db: Any) => {
      await db.schema
        .createTable("intake")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("link", "text", (c) => c.notNull())
        .addColumn("day", "text", (c) => c.notNull())
        .addColumn("sessions", "integer", (c) => c.notNull())
        .addColumn("characters", "bigint", (c) => c.notNull())
        .addPrimaryKeyConstraint("intake_key", ["study_id", "link", "day"])
        .execute();
    },
  },
  "0011_deeds": {
    up: async (db: Any) => {
      await db.schema
        .createTable("deed")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_code", "text", (c) => c.notNull())
        .addColumn("at", "text", (c) => c.notNull())
        .addColumn("by_whom", "text", (c) => c.notNull())
        .addColumn("what", "text", (c) => c.notNull())
        .execute();
      await db.schema.createIndex("deed_study").on("deed").columns(["study_code", "at"]).execute();
      await db.schema
        .alterTable("study")
        .addColumn("numbered_to", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
    },
  },
  "0012_places": {
    up: async (db: Any) => {
      await db.schema
        .alterTable("session")
        .addColumn("entered", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await db.schema.alterTable("session").addColumn("asked", "text").execute();
      // Sessions without a place all have the number 0.
      await db.schema.dropIndex("session_sitting").execute();
      await db.schema
        .createIndex("session_sitting")
        .unique()
        .on("session")
        .columns(["study_id", "participant", "sitting"])
        .where(sql<boolean>`pilot = 0 and participant > 0`)
        .execute();
    },
  },
  "0013_given": {
    up: async (db: Any) => {
      await db.schema.alterTable("session").addColumn("given", "text").execute();
    },
  },
  "0014_beginnings_and_links": {
    up: async (db: Any) => {
      await db.schema.alterTable("session").addColumn("rehearsal", "text").execute();
      await db.schema.alterTable("session").addColumn("device", "text").execute();
      await db.schema.createIndex("session_link").on("session").columns(["link_token", "state"]).execute();
      await db.schema
        .createTable("link_set")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("release_id", "text", (c) => c.notNull().references("release.id"))
        .addColumn("label", "text", (c) => c.notNull())
        .addColumn("open", "integer", (c) => c.notNull())
        .addColumn("terms", "text")
        .addColumn("created_at", "text", (c) => c.notNull())
        .execute();
      const link = () => db.schema.alterTable("entry_link");
      await link().addColumn("terms", "text").execute();
      await link().addColumn("note", "text").execute();
      await link()
        .addColumn("set_id", "text", (c) => c.references("link_set.id"))
        .execute();
      await link()
        .addColumn("place", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await db.schema.createIndex("entry_link_set").on("entry_link").columns(["set_id", "place"]).execute();
    },
  },
  "0015_waves": { up: addWaves },
  "0016_repeats": {
    up: async (db: Any) => {
      await db.schema
        .alterTable("session")
        .addColumn("repeat", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await db.schema.dropIndex("session_sitting").execute();
      await db.schema
        .createIndex("session_sitting")
        .unique()
        .on("session")
        .columns(["study_id", "participant", "sitting", "repeat"])
        .where(sql<boolean>`pilot = 0 and participant > 0`)
        .execute();
    },
  },
  ...collectingMigrations,
  ...teamMigrations,
  ...codesMigrations,
  ...exclusionMigrations,
  ...recipeMigrations,
  ...movingMigrations,
  ...personsMigrations,
  ...paperMigrations,
  ...gazeMigrations,
};

/** Gives sittings of one participant that have the same number the next free ones, in the order in which they began. */
async function numberSittings(db: Kysely<Tables>): Promise<void> {
  const doubled = await db
    .selectFrom("session")
    .select(["study_id", "participant"])
    .where("pilot", "=", 0)
    .groupBy(["study_id", "participant", "sitting"])
    .having(({ fn }) => fn.countAll(), ">", 1)
    .execute();
  for (const { study_id, participant } of doubled) {
    const sittings = await db
      .selectFrom("session")
      .select(["id", "sitting"])
      .where("study_id", "=", study_id)
      .where("participant", "=", participant)
      .where("pilot", "=", 0)
      .orderBy("started_at")
      .execute();
    const taken = new Set<number>();
    for (const { id, sitting } of sittings) {
      let number = sitting;
      while (taken.has(number)) number++;
      taken.add(number);
      if (number !== sitting) await db.updateTable("session").set({ sitting: number }).where("id", "=", id).execute();
    }
  }
}
