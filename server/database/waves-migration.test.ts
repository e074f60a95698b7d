import { Migrator, sql } from "kysely";
import { expect, it } from "vitest";
import { databaseOf, freshFolder, freshStore } from "~/tests/support/store";
import { codesOf } from "../codes";
import { linksOf } from "../links";
import { linkSetsOf } from "../link-sets";
import { listStudies } from "../study-list";
import { wavesOf } from "../waves";
import { migrations } from "./migrations";
import { postgresAt } from "./postgres";
import { sqliteIn } from "./sqlite";
import { plainStudy } from "~/tests/support/studies";

/** A database as it was before there were waves: two releases of a study, each with a link, and one with a set of them. */
async function before(folder: string): Promise<void> {
  const address = await databaseOf(folder);
  const db = address === undefined ? sqliteIn(folder) : postgresAt(address);
  // There a fresh database has all tables already.
  if (address !== undefined) await sql`drop schema public cascade; create schema public`.execute(db);
  const earlier = Object.fromEntries(Object.entries(migrations).filter(([name]) => name < "0015"));
  const { error } = await new Migrator({ db, provider: { getMigrations: async () => earlier } }).migrateToLatest();
  if (error) throw error;
  const document = JSON.stringify(plainStudy());
  const run = (text: ReturnType<typeof sql>) => text.execute(db);
  await run(
    sql`insert into account (id, email, name, password_hash, is_demo, created_at) values ('a', 'a@b', 'A', 'x', 0, '1')`,
  );
  await run(sql`insert into study (id, owner_id, code, document, revision, created_at, edited_at, target, numbered_to)
    values ('st', 'a', 'grey-ferry', ${document}, 1, '1', '1', 40, 0)`);
  for (const number of [1, 2]) {
    await run(sql`insert into release (id, study_id, number, revision, document, note, frozen_at)
      values (${`r-${number}`}, 'st', ${number}, 1, ${document}, 'n', '1')`);
    await run(sql`insert into entry_link (token, release_id, label, open, created_at, terms)
      values (${`link-${number}`}, ${`r-${number}`}, 'Open link', 1, ${String(number)}, null)`);
    await run(sql`insert into session (id, study_id, release_id, link_token, token_hash, participant, group_id, orders, stratum, sitting, pilot,
      state, records, trials, trials_planned, code, participant_code, started_at, seen_at, browser)
      values (${`s-${number}`}, 'st', ${`r-${number}`}, ${`link-${number}`}, ${`h-${number}`}, ${number}, 'g', '{}', '', 1, 0,
      'finished', 0, 0, 0, ${`tide-${number}`}, ${`knot-${number}`}, '1', '1', '')`);
  }
  await run(
    sql`insert into link_set (id, release_id, label, open, created_at) values ('set', 'r-2', 'Course B', 1, '1')`,
  );
  await run(sql`insert into entry_link (token, release_id, label, open, created_at, set_id, place, note)
    values ('own-1', 'r-2', 'gull', 1, '1', 'set', 3, 'pays')`);
  await db.destroy();
}

it("what was given out by release becomes a wave each: links lead where they led, sessions stay theirs", async () => {
  const folder = freshFolder();
  await before(folder);
  const store = await freshStore(folder);
  const waves = await wavesOf(store.db, "st");
  expect(waves.map(({ plan, releaseId, state }) => [plan.name, plan.target, plan.closes, releaseId, state])).toEqual([
    ["First wave", 40, "by-hand", "r-1", "open"],
    ["Release 2", undefined, "finished", "r-2", "open"],
  ]);
  const [first, second] = waves.map(({ id }) => id);
  expect((await linksOf(store, "st")).map(({ token, waveId }) => [token, waveId])).toEqual([
    ["link-1", first],
    ["link-2", second],
  ]);
  expect(await linkSetsOf(store, "st")).toMatchObject([{ label: "Course B", waveId: second, links: 1 }]);
  const own = await store.db.selectFrom("entry_link").selectAll().where("token", "=", "own-1").executeTakeFirst();
  expect(own).toMatchObject({ label: "gull", note: "pays", place: 3, set_id: "set" });
  const sessions = await store.db.selectFrom("session").select(["id", "wave_id", "link_token"]).orderBy("id").execute();
  expect(sessions).toEqual([
    { id: "s-1", wave_id: first, link_token: "link-1" },
    { id: "s-2", wave_id: second, link_token: "link-2" },
  ]);
  // Codes stand in a table of their own since.
  expect(await codesOf(store.db, "s-2")).toEqual({
    participant: "knot-2",
    completion: "tide-2",
    goOn: null,
    cameWith: {},
  });
  expect(await listStudies(store, "a")).toMatchObject([{ target: 40, finished: 2 }]);
  // What refers to a link still does.
  await expect(store.db.deleteFrom("entry_link").where("token", "=", "link-1").execute()).rejects.toThrow();
});
