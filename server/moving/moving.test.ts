import { createHash } from "node:crypto";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { freshFolder, freshOwner, freshStore, released } from "~/tests/support/store";
import { wadersFromSource } from "~/demo/make-files";
import { played as playedBare } from "~/tests/support/played";
import { csv } from "../../core/export/formats/csv";
import { emptyColumns, packSamples } from "../../core/gaze/packed";
import { usualRules } from "../../core/exclusions/registry";
import type { Store } from "../database/open";
import { changeExclusions, exclusionsOf } from "../exclusions";
import { tableFile } from "../export/study-data";
import { streamOf, bytesOf } from "../export/written";
import { deleteSession } from "../forgetting";
import { gazeOf, storePiece } from "../gaze";
import { keptAsideOf } from "../kept-aside";
import { storeMedia } from "../media/study-media";
import { changePersons, personsKept } from "../persons";
import { recipesOf } from "../recipes";
import { findStudyByCode, type Study } from "../studies";
import { wholeStudy, type WholeChoice } from "./data-file";
import type { SessionLine } from "./lines";
import { takeInFile, type Asked, type TakeIn } from "./take-in";
import { takeInInWords } from "./in-words";

/** A study that some have played, with its pictures. */
async function played(count: number) {
  const made = await playedBare(count);
  for (const picture of Object.values(wadersFromSource("demo").contents))
    await storeMedia(made.store, made.study.id, "picture.svg", picture);
  return made;
}
const fileOf = async (store: Store, study: Study, choice: WholeChoice = { codes: false }): Promise<Uint8Array> =>
  new Uint8Array(await new Response(streamOf(wholeStudy(store, study, choice))).arrayBuffer());

/** The same file with some of it changed, its checksums made anew. */
function changed(file: Uint8Array, change: (files: Record<string, Uint8Array>) => void): Uint8Array {
  const files = unzipSync(file);
  delete files["checksums.txt"];
  change(files);
  const sums = Object.entries(files).map(
    ([name, bytes]) => `${createHash("sha256").update(bytes).digest("hex")}  ${name}\n`,
  );
  return zipSync({ ...files, "checksums.txt": strToU8(sums.join("")) });
}
const withSessions = (file: Uint8Array, change: (lines: SessionLine[]) => unknown[]) =>
  changed(file, (files) => {
    const lines = strFromU8(files["sessions.jsonl"] ?? new Uint8Array())
      .trimEnd()
      .split("\n")
      .map((line) => JSON.parse(line) as SessionLine);
    files["sessions.jsonl"] = strToU8(
      change(lines)
        .map((line) => (typeof line === "string" ? line : JSON.stringify(line)) + "\n")
        .join(""),
    );
  });

async function takeIn(store: Store, file: Uint8Array, asked: Partial<Asked> = {}) {
  const path = join(freshFolder(), "moved.lapwing-data.zip");
  writeFileSync(path, file);
  return takeInFile(store, path, { account: null, by: "the test", owner: null, write: true, codes: false, ...asked });
}
async function taken(store: Store, file: Uint8Array, asked: Partial<Asked> = {}): Promise<TakeIn> {
  const done = await takeIn(store, file, asked);
  if (!done.ok) throw new Error(done.reason);
  return done.report;
}

/** A second installation, and whose the study becomes there. */
async function elsewhere() {
  const store = await freshStore(freshFolder());
  return { store, owner: await freshOwner(store, "other@lapwing.example") };
}
async function tables(store: Store, code: string): Promise<string[]> {
  const study = await findStudyByCode(store, code);
  if (!study) throw new Error(`${code} is not there`);
  const texts: string[] = [];
  for (const table of ["trials", "answers", "events", "sessions"] as const) {
    let text = "";
    for await (const piece of tableFile(store, study, table, { format: csv, pilots: false }))
      text += Buffer.from(bytesOf(piece)).toString();
    texts.push(text);
  }
  return texts;
}

describe("a study on its way to another installation", () => {
  it("takes gaze along: what is new, once, and nothing of a file in which a piece cannot be read", async () => {
    const { store, study } = await played(2);
    const sessions = await store.db.selectFrom("session").select("id").orderBy("participant").execute();
    const [first = "", second = ""] = sessions.map(({ id }) => id);
    const piece = (session: string, number: number, times: number[]) => {
      const samples = emptyColumns(times.length);
      samples.times.set(times);
      const packed = gzipSync(packSamples(samples)).toString("base64");
      const own = { number, through: number * 10, error: 0.5, samples: packed };
      return storePiece(store.db, session, own, { count: times.length, at: "2026-11-28T10:00:00.000Z" });
    };
    await piece(first, 1, [1, 2]);
    await piece(second, 1, [5]);
    const there = await elsewhere();
    const file = await fileOf(store, study);
    const asked = { owner: there.owner };
    expect(await taken(there.store, file, { ...asked, write: false })).toMatchObject({ gaze: 2 });
    const report = await taken(there.store, file, asked);
    expect(takeInInWords(report).join(" ")).toContain("gaze of 2 sessions");
    const here = async (session: string) => [...(await gazeOf(there.store, session)).times];
    expect([await here(first), await here(second)]).toEqual([[1, 2], [5]]);
    expect(await taken(there.store, file, asked)).toMatchObject({ gaze: 0, sessions: { same: 2 } });

    await piece(first, 2, [3]);
    expect(await taken(there.store, await fileOf(store, study), asked)).toMatchObject({
      gaze: 1,
      sessions: { same: 2 },
    });
    expect(await here(first)).toEqual([1, 2, 3]);

    const broken = changed(await fileOf(store, study), (files) => {
      const lines = strFromU8(files["gaze.jsonl"] ?? new Uint8Array());
      files["gaze.jsonl"] = strToU8(lines.replace(/"samples":"[^"]{8}/, '"samples":"AAAAAAAA'));
    });
    const third = await elsewhere();
    expect(await takeIn(third.store, broken, { owner: third.owner })).toMatchObject({
      reason: expect.stringContaining("A piece of gaze in it cannot be read") as string,
    });
    expect(await findStudyByCode(third.store, study.code)).toBeNull();
    // A study without gaze has no such file.
    const plain = await played(1);
    expect(Object.keys(unzipSync(await fileOf(plain.store, plain.study)))).not.toContain("gaze.jsonl");
  });

  it("gives there, to the last byte, what it gives here; a second time nothing changes", async () => {
    const { store, study } = await played(4);
    await changeExclusions(store, study, "me", { do: "add", from: null, name: "Strict" });
    const cost = { column: "neighbours", of: "against", less: "with" };
    await changePersons(store, study, "me", {
      ...{ do: "add-score", name: "cost" },
      score: { measure: "mean", numbers: null, signal: null, where: [], contrast: cost },
    });
    const values = { kind: "moments" as const, mean: 40, sd: 20, isNormal: true };
    const about = { source: "made up", year: 2024, better: "lower" as const, reliability: 0.8 };
    await changePersons(store, study, "me", {
      do: "add-norm",
      norm: { score: "cost", name: "Harbour", ...about, interval: "true", bands: [{ n: 90, where: [], values }] },
    });
    const there = await elsewhere();
    const file = await fileOf(store, study);
    const asked = { owner: there.owner };

    const before = await taken(there.store, file, { ...asked, write: false });
    expect(before).toMatchObject({ study: { code: study.code, isNew: true }, sessions: { new: 4 }, waves: 1 });
    expect(await findStudyByCode(there.store, study.code)).toBeNull();

    const report = await taken(there.store, file, asked);
    expect(report).toMatchObject({
      sessions: { new: 4, same: 0 },
      releases: { fresh: 1 },
      waves: 1,
      exclusions: 1,
      definitions: 2,
    });
    expect(await tables(there.store, study.code)).toEqual(await tables(store, study.code));
    const moved = await findStudyByCode(there.store, study.code);
    expect(moved).toMatchObject({ id: study.id, document: study.document });
    expect((await exclusionsOf(there.store.db, study.id)).used).toMatchObject({ name: "Strict", rules: usualRules() });
    const waves = await there.store.db.selectFrom("wave").select("state").execute();
    expect(waves).toEqual([{ state: "closed" }]);

    const again = await taken(there.store, file, { ...asked });
    expect(again).toMatchObject({
      ...{ study: { isNew: false }, sessions: { new: 0, same: 4, different: 0 }, told: [] },
      ...{ releases: { fresh: 0, same: 1 }, waves: 0, exclusions: 0, recipes: 0, definitions: 0 },
    });
    expect(await recipesOf(there.store.db, study.id)).toHaveLength(0);
    expect(await tables(there.store, study.code)).toEqual(await tables(store, study.code));
  });

  it("keeps what is there where a record differs, and puts the other aside, once", async () => {
    const { store, study } = await played(2);
    const there = await elsewhere();
    const file = await fileOf(store, study);
    await taken(there.store, file, { owner: there.owner });
    const before = await tables(there.store, study.code);
    let session = "";
    const other = withSessions(file, (lines) => {
      const [first, ...rest] = lines as [SessionLine, ...SessionLine[]];
      session = first.session.id;
      const [record] = first.records.splice(2, 1);
      if (!record) throw new Error("no record");
      first.records.splice(2, 0, { ...record, body: record.body.replace(/"onset":(\d+)/, '"onset":1$1') });
      return [first, ...rest];
    });
    for (const time of [1, 2]) {
      const { sessions, told } = await taken(there.store, other);
      expect([time, sessions.different, sessions.same]).toEqual([time, 1, 1]);
      expect(told).toEqual([
        expect.objectContaining({
          session,
          fate: "different",
          why: expect.stringContaining("Record 3 is otherwise there"),
        }),
      ]);
    }
    const moved = (await findStudyByCode(there.store, study.code)) as Study;
    const aside = await keptAsideOf(there.store, moved, {});
    expect(aside.map(({ session: of, number, why }) => [of, number, why])).toEqual([[session, 3, "elsewhere"]]);
    expect(await tables(there.store, study.code)).toEqual(before);
  });

  it("adds what came since to a session that went on, and leaves one that has more here", async () => {
    const { store, study } = await played(2);
    const there = await elsewhere();
    const whole = await fileOf(store, study);
    const short = withSessions(whole, ([first, second]) => [
      {
        ...first,
        session: { ...first?.session, state: "active", finishedAt: null },
        records: first?.records.slice(0, 4),
      },
      second,
    ]);
    await taken(there.store, short, { owner: there.owner });
    expect((await tables(there.store, study.code))[3]).toContain("not finished");
    const report = await taken(there.store, whole);
    expect(report.sessions).toMatchObject({ longer: 1, same: 1 });
    expect(await tables(there.store, study.code)).toEqual(await tables(store, study.code));
    // The shorter one again tells nothing new.
    expect((await taken(there.store, short)).sessions).toMatchObject({ same: 2, different: 0 });
    expect(await tables(there.store, study.code)).toEqual(await tables(store, study.code));
  });

  it("brings nothing back that was removed", async () => {
    const { store, study } = await played(2);
    const there = await elsewhere();
    const file = await fileOf(store, study);
    await taken(there.store, file, { owner: there.owner });
    const moved = (await findStudyByCode(there.store, study.code)) as Study;
    const { id } = await there.store.db.selectFrom("session").select("id").limit(1).executeTakeFirstOrThrow();
    await deleteSession(there.store, moved, id, { by: "me" });
    const report = await taken(there.store, file);
    expect(report.sessions).toMatchObject({ removed: 1, same: 1, new: 0 });
    expect(takeInInWords(report)).toContain("1 session was removed, here or there, and is left alone.");
    expect(await there.store.db.selectFrom("session").select("id").execute()).toHaveLength(1);
  });

  it("takes codes along only where that is asked, here and there", async () => {
    const { store, study } = await played(1);
    const { id } = await store.db.selectFrom("session").select("id").executeTakeFirstOrThrow();
    await store.db.deleteFrom("session_codes").execute();
    await store.db
      .insertInto("session_codes")
      .values({ session_id: id, study_id: study.id, participant_code: "TERN7", completion_code: "ABCD-EFGH" })
      .execute();
    const bare = await fileOf(store, study);
    expect(strFromU8(unzipSync(bare)["sessions.jsonl"] as Uint8Array)).not.toContain("TERN7");
    const full = await fileOf(store, study, { codes: true });
    const there = await elsewhere();
    await taken(there.store, full, { owner: there.owner });
    expect(await there.store.db.selectFrom("session_codes").selectAll().execute()).toEqual([]);
    const third = await elsewhere();
    await taken(third.store, full, { owner: third.owner, codes: true });
    const kept = await third.store.db
      .selectFrom("session_codes")
      .select(["participant_code", "completion_code"])
      .execute();
    expect(kept).toEqual([{ participant_code: "TERN7", completion_code: "ABCD-EFGH" }]);
  });

  it("has only the sessions that are asked for, and gives their numbers to nobody else", async () => {
    const { store, study } = await played(3);
    await store.db
      .updateTable("session")
      .set({ state: "active", finished_at: null })
      .where("participant", "=", 3)
      .execute();
    const there = await elsewhere();
    await taken(there.store, await fileOf(store, study, { codes: false, finished: true }), { owner: there.owner });
    expect(await there.store.db.selectFrom("session").select("participant").execute()).toHaveLength(2);
    const { numbered_to } = await there.store.db.selectFrom("study").select("numbered_to").executeTakeFirstOrThrow();
    expect(numbered_to).toBe(3);
  });

  it("goes on where it broke off, and keeps its norm samples in use, without whoever was removed here", async () => {
    const { store, study, sessions } = await played(3);
    const score = { measure: "mean" as const, numbers: null, signal: null, where: [], contrast: null };
    await changePersons(store, study, "me", { do: "add-score", name: "pace", score });
    const norm = (name: string) => ({
      ...{ score: "pace", name, source: "", year: null, better: "lower" as const, reliability: null },
      ...{ interval: "obtained" as const },
      bands: [
        {
          ...{ n: 3, where: [] },
          values: { kind: "own" as const, scores: sessions.map((session, at) => ({ session, value: 400 + at })) },
        },
      ],
    });
    for (const name of ["Spring", "Autumn"])
      await changePersons(store, study, "me", { do: "add-norm", norm: norm(name) });
    const there = await elsewhere();
    const whole = await fileOf(store, study);
    // Only the first session came through.
    await taken(
      there.store,
      withSessions(whole, ([first]) => [first]),
      { owner: there.owner },
    );
    const moved = (await findStudyByCode(there.store, study.code)) as Study;
    await deleteSession(there.store, moved, sessions[0] ?? "", { by: "me" });
    const report = await taken(there.store, whole);
    expect(report.sessions).toMatchObject({ new: 2, removed: 1 });
    const { norms } = await personsKept(there.store.db, study.id);
    expect(norms.map(({ norm: { name }, isUsed }) => [name, isUsed])).toEqual([
      ["Spring", false],
      ["Autumn", true],
    ]);
    expect(JSON.stringify(norms)).not.toContain(sessions[0]);
    expect(JSON.stringify(norms)).toContain(sessions[1]);
  });

  it("leaves out whoever has a number that somebody else has here", async () => {
    const { store, study } = await played(1);
    const file = await fileOf(store, study);
    const there = await elsewhere();
    await taken(there.store, file, { owner: there.owner });
    const other = withSessions(file, ([only]) => [{ ...only, session: { ...only?.session, id: "session-other" } }]);
    const { sessions, told } = await taken(there.store, other);
    expect(sessions).toMatchObject({ taken: 1, new: 0 });
    expect(told[0]?.why).toContain("Somebody else has its number here");
  });

  it("leaves out a session that the file has twice, by its name or its place", async () => {
    const { store, study } = await played(1);
    const file = withSessions(await fileOf(store, study), ([only]) => [
      ...[only, only],
      { ...only, session: { ...only?.session, id: "session-other" } },
    ]);
    const there = await elsewhere();
    expect((await taken(there.store, file, { owner: there.owner })).sessions).toMatchObject({ new: 1, unreadable: 2 });
  });

  it.each<[string, (line: SessionLine) => unknown, string]>([
    ["a record is missing", (line) => ({ ...line, records: line.records.filter((_, at) => at !== 1) }), "record 2"],
    [
      "a record names a part there is not",
      (line) => ({
        ...line,
        records: line.records.map((each) => ({
          ...each,
          body: each.body.replaceAll(/"part":"[^"]*"/g, '"part":"none"'),
        })),
      }),
      "record 1",
    ],
    [
      "a record is no JSON",
      (line) => ({ ...line, records: line.records.map((each) => ({ ...each, body: "{" })) }),
      "record 1",
    ],
    ["a group is none of the study", (line) => ({ ...line, session: { ...line.session, group: "gulls" } }), "group"],
    [
      "the log cannot be read",
      (line) => ({ ...line, log: [{ opening: "a", number: 1, entries: "{}", at: line.session.startedAt }] }),
      "log",
    ],
    ["orders are no object", (line) => ({ ...line, session: { ...line.session, orders: "7" } }), "drawn"],
    ["a field is none of ours", (line) => ({ ...line, more: 1 }), "form"],
    ["the line is no JSON", () => '{"session":', "form"],
    [
      "it was emptied and has records",
      (line) => ({ ...line, session: { ...line.session, removedAt: line.session.startedAt } }),
      "emptied",
    ],
    ["it is of another release", (line) => ({ ...line, session: { ...line.session, release: "other" } }), "release"],
  ])("leaves out a session where %s, and takes the others in", async (_, change, why) => {
    const { store, study } = await played(2);
    const file = withSessions(await fileOf(store, study), (lines) =>
      lines.map((line, at) => (at === 0 ? change(line) : line)),
    );
    const there = await elsewhere();
    const { sessions, told } = await taken(there.store, file, { owner: there.owner });
    expect(sessions).toMatchObject({ new: 1, unreadable: 1 });
    expect(told[0]?.why).toContain(why);
    await tables(there.store, study.code);
  });

  it("is refused as a whole where it is not what it was, and nothing is written", async () => {
    const { store, study } = await played(1);
    const file = await fileOf(store, study);
    const there = await elsewhere();
    const { "checksums.txt": sums, ...files } = unzipSync(file);
    const refused = async (bytes: Uint8Array, says: string) => {
      const done = await takeIn(there.store, bytes, { owner: there.owner });
      expect(done.ok ? "taken" : done.reason).toContain(says);
      expect(await there.store.db.selectFrom("study").select("id").execute()).toEqual([]);
    };
    const sessions = strToU8(strFromU8(files["sessions.jsonl"] as Uint8Array).replace("finished", "withdrawn"));
    await refused(zipSync({ ...files, "sessions.jsonl": sessions, "checksums.txt": sums as Uint8Array }), "damaged");
    await refused(zipSync(files), "no data file");
    await refused(file.slice(0, file.length / 2), "no data file");
    await refused(strToU8("{}"), "no data file");
    await refused(zipSync({ ...files, "evil.txt": strToU8("x"), "checksums.txt": sums as Uint8Array }), "no data file");
    await refused(zipSync({ ...files, "../evil": strToU8("x"), "checksums.txt": sums as Uint8Array }), "damaged");
    const newer = (text: string) => text.replace('"version": 1', '"version": 2');
    await refused(
      changed(
        file,
        (all) => (all["lapwing-data.json"] = strToU8(newer(strFromU8(all["lapwing-data.json"] as Uint8Array)))),
      ),
      "newer Lapwing",
    );
    await refused(
      changed(file, (all) => (all["study.lapwing.json"] = strToU8("{}"))),
      "study cannot be read",
    );
    await refused(
      changed(file, (all) => (all["releases.jsonl"] = strToU8("{}\n"))),
      "release in it cannot be read",
    );
    await refused(
      changed(file, (all) => (all[`media/${"0".repeat(64)}`] = strToU8("<svg/>"))),
      "media file",
    );
    const about = (change: (value: { waves: { release: string }[] }) => void) => (all: Record<string, Uint8Array>) => {
      const value = JSON.parse(strFromU8(all["lapwing-data.json"] as Uint8Array)) as { waves: { release: string }[] };
      change(value);
      all["lapwing-data.json"] = strToU8(JSON.stringify(value));
    };
    await refused(
      changed(
        file,
        about(({ waves }) => waves.push(...waves)),
      ),
      "waves in it",
    );
    await refused(
      changed(
        file,
        about(({ waves }) => waves.forEach((wave) => (wave.release = "other"))),
      ),
      "waves in it",
    );
    const [picture = ""] = Object.keys(files).filter((name) => name.startsWith("media/"));
    expect(picture).not.toBe("");
    await refused(
      changed(file, (all) => delete all[picture]),
      "is not in it",
    );
    const done = await takeIn(there.store, file);
    expect(done.ok ? "taken" : done.reason).toContain("--owner");
  });

  it("is taken into a study that is here by its owner alone", async () => {
    const { store, study } = await played(1);
    const file = await fileOf(store, study);
    const other = await freshOwner(store, "else@lapwing.example");
    const done = await takeIn(store, file, { account: { id: other }, owner: other });
    expect(done.ok ? "taken" : done.reason).toContain("only its owner");
    expect((await taken(store, file, { account: { id: study.ownerId }, owner: study.ownerId })).sessions.same).toBe(1);
  });

  it("is not the release that is here where its text is another", async () => {
    const { store, study } = await released();
    const file = changed(await fileOf(store, study), (files) => {
      const line = JSON.parse(strFromU8(files["releases.jsonl"] as Uint8Array)) as { document: string };
      const document = JSON.stringify({ ...JSON.parse(line.document), title: "Another title" });
      files["releases.jsonl"] = strToU8(`${JSON.stringify({ ...line, document })}\n`);
    });
    const done = await takeIn(store, file);
    expect(done.ok ? "taken" : done.reason).toContain("Release 1 in it is not what release 1 is here");
  });
});
