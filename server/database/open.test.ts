import { sql } from "kysely";
import { describe, expect, it } from "vitest";
import { databaseOf, freshFolder, freshStore } from "~/tests/support/store";
import { openStore } from "./open";

describe("the database", () => {
  it("opens again with what it held", async () => {
    const folder = freshFolder();
    const first = await freshStore(folder);
    await first.db
      .insertInto("account")
      .values({ id: "a", email: "a@b", name: "A", password_hash: "x", is_demo: 0, created_at: "now" })
      .execute();
    const second = await freshStore(folder);
    expect((await second.db.selectFrom("account").select("id").execute()).length).toBe(1);
  });

  it("refuses data of a newer Lapwing with a sentence", async () => {
    const folder = freshFolder();
    const store = await freshStore(folder);
    await sql`insert into kysely_migration (name, timestamp) values ('9999_later', 'x')`.execute(store.db);
    expect(await openStore(folder, await databaseOf(folder))).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/written by a newer Lapwing \(9999_later\)/),
    });
  });
});
