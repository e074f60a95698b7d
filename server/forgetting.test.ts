import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Sqlite from "better-sqlite3";
import { unzipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { freshFolder, freshStore, isOnPostgres, released } from "~/tests/support/store";
import { plainStudy, withBlock } from "~/tests/support/studies";
import type { StudyDocument } from "../core/design/document";
import type { Participation } from "../core/design/participation";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { addLink } from "./links";
import { addWave } from "./new-wave";
import { deedsIn } from "./study-log";
import { cutLog, databaseIn } from "./database/sqlite";
import { participantZip } from "./export/study-data";
import { streamOf } from "./export/written";
import { deleteParticipant, deleteSession, deleteStudy, findParticipant, honourTombstones } from "./forgetting";
import { addLinkSet, linksOfSet } from "./link-sets";
import { storeMedia } from "./media/study-media";
import { appendRecords, takeInSaved } from "./records";
import { wavesOf } from "./waves";
import { removeWhatIsOver } from "./retention";
import { resumeSession } from "./session-of-secret";
import { startRehearsal } from "./rehearsals";
import { startSession } from "./sessions";
import { duplicateStudy, setBinned } from "./studies";

const by = { by: "ann@harbour.example" };
const browser = "Mozilla/5.0 of a wader";
const study = (change: Partial<Participation> = {}): StudyDocument =>
  withBlock(plainStudy(), (_, copy) => void Object.assign(copy.settings.participation, change));

/** A study with a session of “redshank-42”, played as far as asked, and what of it lies on the disk. */
async function begun(change: Partial<Participation> = {}, upTo = Infinity) {
  const folder = freshFolder();
  const there = await released(study(change), folder);
  const { store, link } = there;
  const secret = newSecret();
  const started = await startSession(store, link.token, secret, browser, { participant: "redshank-42" });
  if (!started.ok) throw new Error(started.reason);
  const { session } = started;
  const { records } = simulateSession(study(change), session.participant, session, session.seed, plainModel);
  await appendRecords(store, secret, {
    records: records.slice(0, upTo),
    log: [{ opening: "a", number: 1, entries: [{ at: 1, what: "opened", value: "a mark in the log" }] }],
  });
  const onDisk = (text: string) =>
    ["", "-wal"].some((end) => {
      const path = join(folder, `lapwing.db${end}`);
      return existsSync(path) && readFileSync(path).includes(text);
    });
  return { ...there, folder, secret, session, records, onDisk };
}

describe("what should be gone", () => {
  it("is gone when somebody leaves and wants nothing kept: a line remains that a session was left", async () => {
    const { store, study: one, secret, session, onDisk } = await begun({ withdrawn: "remove" }, 2);
    if (!isOnPostgres)
      for (const text of ["redshank-42", browser, "a mark in the log"]) expect(onDisk(text)).toBe(true);
    const leaving = [{ kind: "end", number: 3, at: 50_000, withdrawn: true }];
    expect(await appendRecords(store, secret, leaving)).toMatchObject({ finished: true, code: null });
    // A resend after a lost acknowledgement brings nothing back.
    expect(await appendRecords(store, secret, leaving)).toMatchObject({ finished: true });
    const row = await store.db
      .selectFrom("session")
      .selectAll()
      .where("id", "=", session.session)
      .executeTakeFirstOrThrow();
    expect(row).toMatchObject({ state: "withdrawn", browser: "", display: null });
    for (const table of ["record", "refused_record", "session_log", "earlier_token", "session_codes"] as const)
      expect(await store.db.selectFrom(table).selectAll().execute()).toEqual([]);
    expect(await deedsIn(store, one)).toMatchObject([{ by: "the participant" }]);
    if (!isOnPostgres)
      for (const text of ["redshank-42", browser, "a mark in the log"]) expect(onDisk(text)).toBe(false);
  });

  it("is found by code or number, shown, given as a file, and deleted with all sittings", async () => {
    const { store, study: one, link, onDisk, secret } = await begun();
    const second = await startSession(store, link.token, newSecret(), browser, { participant: "redshank-42" });
    const other = await startSession(store, link.token, newSecret(), browser, { participant: "arctic-tern-9" });
    if (!second.ok || !other.ok) throw new Error("not started");
    for (const said of ["redshank-42", " redshank-42 ", "1"])
      expect(await findParticipant(store, one.id, said)).toMatchObject({
        participant: 1,
        code: "redshank-42",
        sittings: [{ sitting: 1, state: "finished", trials: 2, browser }, { sitting: 2 }],
      });
    for (const said of ["", "nobody", "%", "9999999"]) expect(await findParticipant(store, one.id, said)).toBeNull();
    const files = unzipSync(
      new Uint8Array(await new Response(streamOf(participantZip(store, one, { participant: 1 }))).arrayBuffer()),
    );
    const text = (name: string) => new TextDecoder().decode(files[name]);
    expect(Object.keys(files)).toEqual(expect.arrayContaining(["trials.csv", "sitting-1.json", "sitting-2.json"]));
    expect(JSON.parse(text("sitting-1.json"))).toMatchObject({
      session: { browser },
      codes: { participant: "redshank-42" },
      records: [{ number: 1 }, {}, {}, {}, { kind: "end" }],
      log: [{ entries: [{ value: "a mark in the log" }] }],
    });
    for (const name of Object.keys(files)) expect(text(name)).not.toContain("arctic-tern-9");
    expect(await deleteParticipant(store, one, 1, by)).toBe(2);
    expect(await findParticipant(store, one.id, "redshank-42")).toBeNull();
    expect(await findParticipant(store, one.id, "arctic-tern-9")).not.toBeNull();
    if (!isOnPostgres) expect(onDisk("redshank-42")).toBe(false);
    expect(await deedsIn(store, one)).toMatchObject(
      [{ ...by, what: /participant 1 .* 2 sittings/ }].map(({ what, ...rest }) => ({
        ...rest,
        what: expect.stringMatching(what) as string,
      })),
    );
    // Whoever still has the secret finds nothing, and can store nothing.
    expect(await resumeSession(store, secret)).toBeNull();
    expect(await appendRecords(store, secret, [{ kind: "end", number: 9, at: 1 }])).toMatchObject({ ok: false });
    // The number is given to nobody else.
    await deleteParticipant(store, one, 2, by);
    const next = await startSession(store, link.token, newSecret(), browser);
    expect(next.ok && next.session.participant).toBe(3);
  });

  it.skipIf(isOnPostgres)("leaves the log when nobody reads any more; nobody waits for who does", async () => {
    const { store, study: one, onDisk, folder } = await begun();
    const reader = new Sqlite(databaseIn(folder), { readonly: true });
    reader.exec("begin");
    reader.prepare("select count(*) from session").get();
    await deleteParticipant(store, one, 1, by);
    expect(await cutLog(store.db)).toBe(false);
    reader.exec("commit");
    expect(await cutLog(store.db)).toBe(true);
    expect(onDisk("redshank-42")).toBe(false);
    reader.close();
  });

  it("is one session where only that is deleted, rehearsals too, and of no other study", async () => {
    const { store, study: one, session } = await begun();
    const pilot = await startRehearsal(store, one, { participant: 1 }, browser);
    const copy = await duplicateStudy(store, one.ownerId, one);
    expect(await deleteSession(store, copy, session.session, by)).toBe(false);
    expect(await deleteSession(store, one, pilot.session.session, by)).toBe(true);
    expect(await deleteSession(store, one, session.session, by)).toBe(true);
    expect(await deleteSession(store, one, session.session, by)).toBe(false);
    expect(await store.db.selectFrom("session").selectAll().execute()).toEqual([]);
  });

  it("is a study of the bin with all that is its own, and media that no other study has", async () => {
    const { store, study: one, onDisk } = await begun();
    const svg = (color: string) =>
      new TextEncoder().encode(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 4 3"><rect fill="${color}"/></svg>`,
      );
    const own = await storeMedia(store, one.id, "own.svg", svg("#123456"));
    const shared = await storeMedia(store, one.id, "shared.svg", svg("#654321"));
    const copy = await duplicateStudy(store, one.ownerId, one);
    await store.db
      .deleteFrom("study_media")
      .where("study_id", "=", copy.id)
      .where("sha256", "=", own.ok ? own.file.sha256 : "")
      .execute();
    expect(await deleteStudy(store, one, by)).toMatchObject({ ok: false });
    await setBinned(store, one.id, true);
    expect(await deleteStudy(store, one, by)).toEqual({ ok: true });
    if (!own.ok || !shared.ok) throw new Error("not stored");
    await expect(store.media.read(own.file.sha256)).rejects.toThrow();
    expect((await store.media.read(shared.file.sha256)).length).toBeGreaterThan(0);
    for (const table of ["session", "record", "release", "entry_link"] as const)
      expect(await store.db.selectFrom(table).selectAll().execute()).toEqual([]);
    expect(await store.db.selectFrom("study").select("id").execute()).toEqual([{ id: copy.id }]);
    expect(await store.db.selectFrom("deed").selectAll().execute()).toMatchObject([
      { by_whom: by.by, what: expect.stringMatching(/1 session and 2 media files/) as string },
    ]);
    if (!isOnPostgres) expect(onDisk("redshank-42")).toBe(false);
  });

  it("stays gone when a copy of the database from before is put back", async () => {
    const folder = freshFolder();
    const { store, study: one, link } = await released(study({ withdrawn: "remove" }), folder);
    const begin = async (participant: string) => {
      const secret = newSecret();
      const started = await startSession(store, link.token, secret, browser, { participant });
      if (!started.ok) throw new Error(started.reason);
      return { secret, ...started.session };
    };
    const [leaver, deleted, stays] = [await begin("knot"), await begin("arctic-tern-9"), await begin("gull")];
    // As a copy has them: everything as it was before.
    const before = await store.db.selectFrom("session").selectAll().execute();
    const codes = await store.db.selectFrom("session_codes").selectAll().execute();
    await appendRecords(store, leaver.secret, [{ kind: "end", number: 1, at: 9, withdrawn: true }]);
    await deleteSession(store, one, deleted.session, by);
    for (const table of ["session_codes", "session"] as const) await store.db.deleteFrom(table).execute();
    await store.db.insertInto("session").values(before).execute();
    await store.db.insertInto("session_codes").values(codes).execute();
    expect(await findParticipant(store, one.id, "arctic-tern-9")).not.toBeNull();
    expect(await honourTombstones(store)).toBe(2);
    expect(await honourTombstones(store)).toBe(0);
    for (const gone of ["knot", "arctic-tern-9"]) expect(await findParticipant(store, one.id, gone)).toBeNull();
    expect(await findParticipant(store, one.id, "gull")).toMatchObject({ sittings: [{ id: stays.session }] });
    const states = await store.db.selectFrom("session").select(["id", "state"]).orderBy("participant").execute();
    expect(states).toEqual([
      { id: leaver.session, state: "withdrawn" },
      { id: stays.session, state: "active" },
    ]);
    const saved = { session: deleted.session, records: [{ kind: "end", number: 1, at: 1 }], log: [] };
    expect(await takeInSaved(store, saved)).toMatchObject({ ok: false });
    expect(readFileSync(join(folder, "removed.txt"), "utf8")).not.toMatch(/knot|tern/);
  });

  it("is found by the codes that Lapwing gave, too", async () => {
    const { store, study: one, session, secret } = await begun({ elsewhere: true });
    const { code } = (await resumeSession(store, secret)) ?? {};
    for (const given of [code, session.goOn, session.session, session.goOn?.toLowerCase()])
      expect(await findParticipant(store, one.id, given ?? "")).toMatchObject({ participant: 1 });
  });

  it("are codes and browsers when their days are over, in studies that say so, and failed sign-ins", async () => {
    const { store, study: one, session, onDisk } = await begun({ namesKeptDays: 30 });
    const kept = await freshStore();
    await store.db.insertInto("sign_in_try").values({ subject: "from:x", at: "2020-01-01T00:00:00.000Z" }).execute();
    const inDays = (days: number) => Date.now() + days * 86_400_000;
    expect(await removeWhatIsOver(store, inDays(29))).toBe(0);
    expect(await findParticipant(store, one.id, "redshank-42")).not.toBeNull();
    expect(await store.db.selectFrom("sign_in_try").selectAll().execute()).toEqual([]);
    expect(await removeWhatIsOver(store, inDays(31))).toBe(1);
    expect(await removeWhatIsOver(store, inDays(31))).toBe(0);
    const row = await store.db
      .selectFrom("session")
      .selectAll()
      .where("id", "=", session.session)
      .executeTakeFirstOrThrow();
    expect(row).toMatchObject({ browser: "", state: "finished" });
    expect(await store.db.selectFrom("session_codes").selectAll().execute()).toEqual([]);
    expect(await store.db.selectFrom("record").select("number").execute()).toHaveLength(5);
    expect((await deedsIn(store, one))[0]?.what).toMatch(
      /removed from 1 session of “First wave”, 30 days after the last one/,
    );
    if (!isOnPostgres) expect(onDisk("redshank-42")).toBe(false);
    expect(await removeWhatIsOver(kept)).toBe(0);
    const { id: wave } = (await wavesOf(store.db, one.id))[0]!;
    const made = await addLinkSet(store, one.id, wave, "Course B", [{ label: "gull", note: "in front" }]);
    const set = "id" in made ? made.id : "";
    await removeWhatIsOver(store, inDays(29));
    expect(await linksOfSet(store, one.id, set)).toMatchObject([{ label: "gull", note: "in front" }]);
    await removeWhatIsOver(store, inDays(32));
    expect(await linksOfSet(store, one.id, set)).toMatchObject([{ label: "removed", note: "" }]);
    expect((await deedsIn(store, one))[0]?.what).toBe("The names of 1 link were removed.");
  });

  it("are sessions with all their answers when their years are over, and their numbers are given to nobody else", async () => {
    const { store, study: one, session, link, onDisk } = await begun({ answersKeptYears: 2 });
    const { id: wave } = (await wavesOf(store.db, one.id))[0]!;
    const made = await addLinkSet(store, one.id, wave, "Course B", [{ label: "gull", note: "in front" }]);
    const names = async () => (await linksOfSet(store, one.id, "id" in made ? made.id : ""))?.map(({ label }) => label);
    const inYears = (years: number, days = 0) => {
      const then = new Date();
      then.setUTCFullYear(then.getUTCFullYear() + years);
      return then.getTime() + days * 86_400_000;
    };
    expect(await removeWhatIsOver(store, inYears(2, -1))).toBe(0);
    expect(await names()).toEqual(["gull"]);
    expect(await store.db.selectFrom("record").select("number").execute()).toHaveLength(5);
    expect(await removeWhatIsOver(store, inYears(2, 1))).toBe(1);
    expect(await removeWhatIsOver(store, inYears(2, 1))).toBe(0);
    for (const table of ["session", "record", "session_log"] as const)
      expect(await store.db.selectFrom(table).selectAll().execute()).toEqual([]);
    // Names of links are kept as long as the answers, where no other time is said for them.
    expect(await names()).toEqual(["removed"]);
    // Both may stand in the log at the same moment.
    const told = (await deedsIn(store, one)).map(({ what }) => what);
    expect(told).toContain("1 session of “First wave” was deleted with all answers, 2 years after the last one.");
    expect(told).toContain("The names of 1 link were removed.");
    if (!isOnPostgres) expect(onDisk(session.session)).toBe(false);
    const next = await startSession(store, link.token, newSecret(), "browser");
    expect(next.ok && next.session.participant).toBe(session.participant + 1);
    // The wave goes on with whoever comes later.
    expect(await removeWhatIsOver(store, inYears(1))).toBe(0);
    expect(await store.db.selectFrom("session").select("participant").execute()).toHaveLength(1);
  });

  it("are codes of a wave when its own days are over, and those of a later wave stay", async () => {
    const document = plainStudy();
    document.settings.participation.namesKeptDays = 30;
    const { store, study, link } = await released(document);
    const [first] = await wavesOf(store.db, study.id);
    if (!first) throw new Error("no wave");
    const second = await addWave(store, study.id, first.releaseId, "Retest");
    if (!("id" in second)) throw new Error("no second wave");
    const later = await addLink(store, study.id, second.id, "Retest link");
    const inDays = (days: number) => Date.now() + days * 86_400_000;
    for (const token of [link.token, "link" in later ? later.link.token : ""])
      expect(await startSession(store, token, newSecret(), "browser")).toMatchObject({ ok: true });
    const seenIn = (wave: string, days: number) =>
      store.db
        .updateTable("session")
        .set({ seen_at: new Date(inDays(days)).toISOString() })
        .where("wave_id", "=", wave)
        .execute();
    await seenIn(second.id, 20);
    // The first wave had its session now, and is closed ten days on.
    await store.db
      .updateTable("wave")
      .set({ state: "closed", changed_at: new Date(inDays(10)).toISOString() })
      .where("id", "=", first.id)
      .execute();
    const named = async () =>
      (await store.db.selectFrom("session").select(["wave_id", "browser"]).where("browser", "!=", "").execute()).map(
        ({ wave_id }) => wave_id,
      );
    expect(await removeWhatIsOver(store, inDays(35))).toBe(0);
    expect(await removeWhatIsOver(store, inDays(41))).toBe(1);
    expect(await named()).toEqual([second.id]);
    expect((await deedsIn(store, study))[0]?.what).toMatch(
      /1 session of “First wave”, 30 days after the wave was closed/,
    );
    expect(await removeWhatIsOver(store, inDays(51))).toBe(1);
    expect(await named()).toEqual([]);
  });
});
