import { sql, type Kysely, type Migration } from "kysely";
import { hasManyWriters } from "./locked";
import type { Tables } from "./tables";

type Any = Kysely<unknown>;

/** What several people need who work on studies together: accounts with rights, laboratories, shares, keys, a log that stays. */
export const teamMigrations: Record<string, Migration> = {
  "0020_team": {
    up: async (db: Any) => {
      const { schema } = db;
      await schema
        .alterTable("account")
        .addColumn("is_admin", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await schema.alterTable("account").addColumn("totp", "text").execute();
      await schema
        .alterTable("account")
        .addColumn("totp_step", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await schema.alterTable("account").addColumn("subject", "text").execute();
      await schema.createIndex("account_subject").unique().on("account").column("subject").execute();
      // Whoever was here first runs it.
      await sql`update account set is_admin = 1 where id in
        (select id from account where is_demo = 0 and closed_at is null order by created_at, id limit 1)`.execute(db);
      await schema
        .createTable("invite")
        .addColumn("token_hash", "text", (c) => c.primaryKey())
        .addColumn("kind", "text", (c) => c.notNull())
        .addColumn("email", "text", (c) => c.notNull())
        .addColumn("account_id", "text", (c) => c.references("account.id"))
        .addColumn("by_whom", "text", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .addColumn("expires_at", "text", (c) => c.notNull())
        .execute();
      await schema
        .createTable("lab")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .execute();
      await schema
        .createTable("lab_member")
        .addColumn("lab_id", "text", (c) => c.notNull().references("lab.id"))
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("heads", "integer", (c) => c.notNull())
        .addPrimaryKeyConstraint("lab_member_key", ["lab_id", "account_id"])
        .execute();
      await schema.createIndex("lab_member_account").on("lab_member").column("account_id").execute();
      await schema
        .createTable("study_share")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("account_id", "text", (c) => c.references("account.id"))
        .addColumn("lab_id", "text", (c) => c.references("lab.id"))
        .addColumn("roles", "text", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .execute();
      for (const whom of ["account_id", "lab_id"] as const) {
        await schema
          .createIndex(`study_share_${whom}`)
          .unique()
          .on("study_share")
          .columns(["study_id", whom])
          .execute();
        await schema.createIndex(`study_share_of_${whom}`).on("study_share").column(whom).execute();
      }
      await schema
        .createTable("study_label")
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("label", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("study_label_key", ["study_id", "label"])
        .execute();
      await schema
        .createTable("script_key")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("key_hash", "text", (c) => c.notNull().unique())
        .addColumn("since", "text", (c) => c.notNull())
        .addColumn("expires_at", "text", (c) => c.notNull())
        .addColumn("used_at", "text")
        .execute();
      await schema.createIndex("script_key_study").on("script_key").column("study_id").execute();
      await schema
        .createTable("study_comment")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addColumn("about", "text", (c) => c.notNull())
        .addColumn("answers", "text")
        .addColumn("text", "text", (c) => c.notNull())
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("at", "text", (c) => c.notNull())
        .addColumn("resolved_at", "text")
        .addColumn("resolved_by", "text")
        .execute();
      await schema.createIndex("study_comment_study").on("study_comment").columns(["study_id", "at"]).execute();
      await schema.alterTable("study").addColumn("reader_hash", "text").execute();
      await schema
        .createTable("lab_computer")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("token_hash", "text", (c) => c.notNull().unique())
        .addColumn("key_hash", "text", (c) => c.notNull())
        .addColumn("account_id", "text", (c) => c.notNull().references("account.id"))
        .addColumn("is_locked", "integer", (c) => c.notNull())
        .addColumn("since", "text", (c) => c.notNull())
        .addColumn("seen_at", "text", (c) => c.notNull())
        .execute();
      await schema
        .createTable("lab_computer_study")
        .addColumn("computer_id", "text", (c) => c.notNull().references("lab_computer.id"))
        .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
        .addPrimaryKeyConstraint("lab_computer_study_key", ["computer_id", "study_id"])
        .execute();
      await schema.createIndex("lab_computer_study_study").on("lab_computer_study").column("study_id").execute();
      await schema.alterTable("computer_test").addColumn("computer_id", "text").execute();
      await schema.alterTable("session").addColumn("computer_id", "text").execute();
      await schema
        .alterTable("study")
        .addColumn("shows_groups", "integer", (c) => c.notNull().defaultTo(0))
        .execute();
      await schema
        .alterTable("deed")
        .addColumn("kind", "text", (c) => c.notNull().defaultTo("removed"))
        .execute();
      await keepForGood(db, "deed");
    },
  },
};

/** Refuses every change of rows that stand in a table. */
async function keepForGood(db: Any, table: string): Promise<void> {
  const says = "What stands in the log is never changed.";
  const name = sql.ref(`${table}_stays`);
  if (!hasManyWriters(db as Kysely<Tables>)) {
    for (const change of ["update", "delete"])
      await sql`create trigger ${sql.ref(`${table}_${change}`)} before ${sql.raw(change)} on ${sql.ref(table)}
        begin select raise(abort, ${sql.lit(says)}); end`.execute(db);
    return;
  }
  await sql`create function ${name}() returns trigger language plpgsql as
    ${sql.raw(`$stays$ begin raise exception '${says}'; end $stays$`)}`.execute(db);
  await sql`create trigger ${name} before update or delete on ${sql.ref(table)}
    for each row execute function ${name}()`.execute(db);
}
