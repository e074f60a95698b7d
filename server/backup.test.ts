import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { freshFolder, isOnPostgres, released } from "../tests/support/store";
import { plainStudy } from "../tests/support/studies";
import { backUp, restore } from "./backup";
import { newSecret } from "./chance";
import { openedStore } from "./database/open";
import { startSession } from "./sessions";
import { deleteParticipant, honourTombstones } from "./forgetting";

const by = { by: "the owner" };
/** A folder with a study, a session that was played, and a media file. */
async function played() {
  const folder = freshFolder();
  const { store, study, link } = await released(plainStudy(), folder);
  const started = await startSession(store, link.token, newSecret(), "browser");
  if (!started.ok) throw new Error(started.reason);
  const bytes = Buffer.from("a picture");
  const name = createHash("sha256").update(bytes).digest("hex");
  mkdirSync(join(folder, "media"), { recursive: true });
  writeFileSync(join(folder, "media", name), bytes);
  return { folder, store, study, name };
}
const sessionsIn = async (folder: string) => {
  const store = openedStore(folder, undefined);
  try {
    await honourTombstones(store);
    return (await store.db.selectFrom("session").select(["participant", "state"]).execute()).length;
  } finally {
    await store.close();
  }
};

describe.skipIf(isOnPostgres)("a backup", () => {
  it("holds everything, and is put back into an empty folder", async () => {
    const { folder, name } = await played();
    const file = join(folder, "backup.zip");
    await backUp(folder, file);
    expect(readdirSync(folder).filter((each) => each.startsWith("backup"))).toEqual(["backup.zip"]);
    const empty = freshFolder();
    expect(await restore(empty, file)).toEqual({ ok: true, media: 1, aside: null });
    expect(readFileSync(join(empty, "media", name), "utf8")).toBe("a picture");
    expect(readdirSync(empty).toSorted()).toEqual(["lapwing.db", "media"]);
    expect(await sessionsIn(empty)).toBe(1);
  });

  it("puts aside what is there, and brings nothing back that was removed since", async () => {
    const { folder, store, study } = await played();
    const file = join(folder, "backup.zip");
    await backUp(folder, file);
    expect(await restore(folder, file)).toMatchObject({
      ok: false,
      reason: expect.stringContaining("is running") as string,
    });
    expect(await deleteParticipant(store, study, 1, by)).toBe(1);
    await store.close();
    const restored = await restore(folder, file);
    expect(restored).toMatchObject({ ok: true, media: 1 });
    expect(restored.ok && restored.aside !== null && existsSync(restored.aside)).toBe(true);
    expect(await sessionsIn(folder)).toBe(0);
  });

  it("also brings what its own list says was removed into a folder that knew nothing of it", async () => {
    const { folder, store, study } = await played();
    await deleteParticipant(store, study, 1, by);
    const file = join(folder, "backup.zip");
    await backUp(folder, file);
    const empty = freshFolder();
    await restore(empty, file);
    expect(readFileSync(join(empty, "removed.txt"), "utf8")).toBe(readFileSync(join(folder, "removed.txt"), "utf8"));
  });

  it("of another kind, or cut short, is refused and changes nothing", async () => {
    const { folder, store } = await played();
    const file = join(folder, "backup.zip");
    await backUp(folder, file);
    await store.close();
    const cut = join(folder, "cut.zip");
    writeFileSync(cut, readFileSync(file).subarray(0, 5000));
    const other = join(folder, "other.txt");
    writeFileSync(other, "These are no data.");
    const { default: Sqlite } = await import("better-sqlite3");
    const foreign = join(folder, "foreign.db");
    new Sqlite(foreign).exec("create table birds (name text)").close();
    for (const wrong of [cut, other, foreign])
      expect(await restore(folder, wrong)).toMatchObject({
        ok: false,
        reason: expect.stringContaining("no whole backup") as string,
      });
    expect(readdirSync(folder).filter((each) => each.includes("restor"))).toEqual([]);
    expect(await sessionsIn(folder)).toBe(1);
  });

  it("may be a database alone", async () => {
    const { folder, store } = await played();
    await store.close();
    const empty = freshFolder();
    expect(await restore(empty, join(folder, "lapwing.db"))).toMatchObject({ ok: true, media: 0 });
    expect(await sessionsIn(empty)).toBe(1);
  });
});
