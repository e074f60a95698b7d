import { sql, type Kysely } from "kysely";
import { newWavePlan } from "../../core/collect/wave";
import { hasManyWriters } from "./locked";
import type { Tables } from "./tables";

type Any = Kysely<unknown>;

/**
 * Waves: what each release was given out by until now becomes one, so that every link leads where it led. Links belong to a
 * wave from then on, and the wave says which release it runs.
 */
export const addWaves = (db: Any): Promise<void> =>
  // On PostgreSQL every migration is one transaction already.
  hasManyWriters(db as Kysely<Tables>) ? waves(db) : db.transaction().execute(waves);

async function waves(db: Any): Promise<void> {
  await db.schema
    .createTable("wave")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("study_id", "text", (c) => c.notNull().references("study.id"))
    .addColumn("place", "integer", (c) => c.notNull())
    .addColumn("release_id", "text", (c) => c.notNull().references("release.id"))
    .addColumn("plan", "text", (c) => c.notNull())
    .addColumn("state", "text", (c) => c.notNull())
    .addColumn("says", "text", (c) => c.notNull())
    .addColumn("changed_at", "text", (c) => c.notNull())
    .addColumn("created_at", "text", (c) => c.notNull())
    .execute();
  await db.schema.createIndex("wave_study").on("wave").columns(["study_id", "place"]).execute();
  await db.schema
    .alterTable("session")
    .addColumn("wave_id", "text", (c) => c.references("wave.id"))
    .execute();
  await db.schema.createIndex("session_wave").on("session").columns(["wave_id", "state"]).execute();
  for (const [name, instead] of [
    ["by_whom", ""],
    ["accepted", "[]"],
  ] as const)
    await db.schema
      .alterTable("release")
      .addColumn(name, "text", (c) => c.notNull().defaultTo(instead))
      .execute();
  await waveEachRelease(db as Kysely<Tables>);
  await (hasManyWriters(db as Kysely<Tables>) ? linksToWaves(db) : linksRebuilt(db));
  await db.schema.alterTable("study").dropColumn("target").execute();
}

async function waveEachRelease(db: Kysely<Tables>): Promise<void> {
  const releases = await db
    .selectFrom("release")
    .innerJoin("study", "study.id", "release.study_id")
    .select(["release.id", "release.study_id", "release.number", "release.frozen_at"])
    .select(sql<number | null>`study.target`.as("target"))
    .where("release.number", "is not", null)
    .orderBy("release.number")
    .execute();
  const places = new Map<string, number>();
  for (const { id, study_id, number, frozen_at, target } of releases) {
    const place = places.get(study_id) ?? 0;
    places.set(study_id, place + 1);
    const plan = newWavePlan(place === 0 ? "First wave" : `Release ${number}`);
    const isFirst = place === 0 && target !== null;
    await db
      .insertInto("wave")
      .values({
        ...{ id: waveOf(id), study_id, place, release_id: id, state: "open", says: "" },
        // What was wanted until now closed nothing.
        plan: JSON.stringify(isFirst ? { ...plan, target, closes: "by-hand" } : plan),
        ...{ changed_at: frozen_at, created_at: frozen_at },
      })
      .execute();
    await db
      .updateTable("session")
      .set({ wave_id: waveOf(id) })
      .where("release_id", "=", id)
      .where("pilot", "=", 0)
      .execute();
  }
}

const waveOf = (releaseId: string) => `wave-${releaseId}`;

/** Where a column that refers to another table can be left out. */
async function linksToWaves(db: Any): Promise<void> {
  for (const table of ["link_set", "entry_link"]) {
    await db.schema
      .alterTable(table)
      .addColumn("wave_id", "text", (c) => c.references("wave.id"))
      .execute();
    await sql`update ${sql.table(table)} set wave_id = 'wave-' || release_id`.execute(db);
    await db.schema
      .alterTable(table)
      .alterColumn("wave_id", (c) => c.setNotNull())
      .execute();
    await db.schema.alterTable(table).dropColumn("release_id").execute();
  }
}

/** Where it cannot be, the two tables are made anew; what refers to them is looked at when all is in its place. */
async function linksRebuilt(db: Any): Promise<void> {
  await sql`pragma defer_foreign_keys = on`.execute(db);
  for (const table of ["entry_link", "link_set"]) {
    await sql`create table ${sql.table(`${table}_before`)} as select * from ${sql.table(table)}`.execute(db);
    await db.schema.dropTable(table).execute();
  }
  await db.schema
    .createTable("link_set")
    .addColumn("id", "text", (c) => c.primaryKey())
    .addColumn("wave_id", "text", (c) => c.notNull().references("wave.id"))
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("open", "integer", (c) => c.notNull())
    .addColumn("terms", "text")
    .addColumn("created_at", "text", (c) => c.notNull())
    .execute();
  await db.schema
    .createTable("entry_link")
    .addColumn("token", "text", (c) => c.primaryKey())
    .addColumn("wave_id", "text", (c) => c.notNull().references("wave.id"))
    .addColumn("label", "text", (c) => c.notNull())
    .addColumn("open", "integer", (c) => c.notNull())
    .addColumn("created_at", "text", (c) => c.notNull())
    .addColumn("terms", "text")
    .addColumn("note", "text")
    .addColumn("set_id", "text", (c) => c.references("link_set.id"))
    .addColumn("place", "integer", (c) => c.notNull().defaultTo(0))
    .execute();
  const columns = {
    link_set: "id, label, open, terms, created_at",
    entry_link: "token, label, open, created_at, terms, note, set_id, place",
  };
  for (const [table, list] of Object.entries(columns)) {
    const [to, from, same] = [sql.table(table), sql.table(`${table}_before`), sql.raw(list)];
    await sql`insert into ${to} (${same}, wave_id) select ${same}, 'wave-' || release_id from ${from}`.execute(db);
    await db.schema.dropTable(`${table}_before`).execute();
  }
  await db.schema.createIndex("entry_link_set").on("entry_link").columns(["set_id", "place"]).execute();
}
