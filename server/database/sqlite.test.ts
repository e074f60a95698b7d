import { chmodSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { sql } from "kysely";
import { describe, expect, it } from "vitest";
import { freshFolder, freshStore, isOnPostgres } from "~/tests/support/store";
import { openStore } from "./open";

const pragma = async (store: Awaited<ReturnType<typeof freshStore>>, name: string) =>
  Object.values((await sql<Record<string, unknown>>`${sql.raw(`pragma ${name}`)}`.execute(store.db)).rows[0] ?? {})[0];

describe.skipIf(isOnPostgres)("the database in a folder", () => {
  it("syncs fully, logs ahead and checks foreign keys", async () => {
    const store = await freshStore();
    expect([
      await pragma(store, "journal_mode"),
      await pragma(store, "synchronous"),
      await pragma(store, "foreign_keys"),
    ]).toEqual(["wal", 2, 1]);
    await expect(
      store.db
        .insertInto("record")
        .values({ session_id: "none", number: 1, kind: "end", body: "{}", received_at: "" })
        .execute(),
    ).rejects.toThrow(/FOREIGN KEY/);
  });

  it("refuses a folder that is a file, and a file that is no database, with a sentence", async () => {
    const folder = freshFolder();
    writeFileSync(join(folder, "file"), "x");
    expect(await openStore(join(folder, "file"))).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/cannot be written/),
    });
    writeFileSync(join(folder, "lapwing.db"), "this is no database, whatever its name says".repeat(50));
    chmodSync(join(folder, "lapwing.db"), 0o600);
    expect(await openStore(folder)).toMatchObject({ ok: false, reason: expect.stringMatching(/cannot be opened/) });
  });
});
