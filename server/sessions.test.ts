import { sql } from "kysely";
import { describe, expect, it } from "vitest";
import { released, isOnPostgres } from "~/tests/support/store";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../core/simulate/participant";
import type { SessionRecord } from "../core/records/record";
import { appendRecords, takeInSaved } from "./records";
import { newSecret } from "./chance";
import { isBusy } from "./database/open";
import { setLink } from "./links";
import { freezeRelease } from "./releases";
import type { SessionData } from "../core/run/session-data";
import type { Store } from "./database/open";
import { keptAsideOf } from "./kept-aside";
import { roomOf } from "./intake";
import { listSessions } from "./session-list";
import { resumeSession, setDevice } from "./session-of-secret";
import { exampleDevice } from "../core/values/device";
import { startRehearsal } from "./rehearsals";
import { setExcluded, startSession } from "./sessions";

const threeGroups = withBlock(plainStudy(), (_, document) => {
  document.groups = ["a", "b", "c"].map((id) => ({ id, name: id }));
});
const recordsFor = (group: string, participant = 1): SessionRecord[] =>
  simulateSession(plainStudy(), participant, { group, orders: {} }, "AB12", plainModel).records;

/** The first trial of the session of that participant, as it is sent. */
const trialOf = (participant: number) =>
  recordsFor(plainStudy().groups[0]?.id ?? "", participant).find(({ kind }) => kind === "trial");

async function started() {
  const { store, study, link } = await released();
  const secret = newSecret();
  const session = await startSession(store, link.token, secret, "browser");
  if (!session.ok) throw new Error(session.reason);
  return { store, study, link, secret, records: recordsFor(session.session.group) };
}

describe("the device", () => {
  const looking = withBlock(plainStudy(), (_, document) => {
    const [first] = document.runningOrder;
    if (first?.kind === "part") first.when = { left: { from: { builtIn: "device.width" } }, is: ">", right: 0 };
  });
  const begun = async (document = looking) => {
    const { store, link } = await released(document);
    const secret = newSecret();
    const session = await startSession(store, link.token, secret, "browser");
    if (!session.ok) throw new Error(session.reason);
    return { store, secret, session: session.session };
  };

  it("is kept once, before the first record, and comes with the session", async () => {
    const { store, secret, session } = await begun();
    expect(session.begins.device).toBeUndefined();
    expect(await setDevice(store, secret, exampleDevice)).toEqual(exampleDevice);
    expect(await setDevice(store, secret, { ...exampleDevice, width: 320 })).toEqual(exampleDevice);
    expect((await resumeSession(store, secret))?.begins.device).toEqual(exampleDevice);
    expect(await setDevice(store, newSecret(), exampleDevice)).toBeNull();
  });

  it("is not kept once something was recorded, nor where the study does not look at it", async () => {
    const { store, secret, session } = await begun();
    const { participant, group, orders, seed } = session;
    const { records } = simulateSession(looking, participant, { group, orders }, seed, plainModel);
    // Without a device the first part is left out, as its condition says.
    const first = records.find(({ kind }) => kind === "trial");
    await appendRecords(store, secret, [{ ...first!, number: 1 }]);
    expect(await setDevice(store, secret, exampleDevice)).toBeNull();
    const other = await begun(plainStudy());
    expect(await setDevice(other.store, other.secret, exampleDevice)).toBeNull();
  });
});

describe("starting", () => {
  it("gives out each number once and groups that never differ by more than one, also at the same moment", async () => {
    const { store, study, link } = await released(threeGroups);
    const starts = await Promise.all(
      Array.from({ length: 50 }, () => startSession(store, link.token, newSecret(), "browser")),
    );
    const sessions = starts.flatMap((start) => (start.ok ? [start.session] : []));
    expect(sessions.map(({ participant }) => participant).toSorted((a, b) => a - b)).toEqual(
      Array.from({ length: 50 }, (_, index) => index + 1),
    );
    const sizes = ["a", "b", "c"].map((group) => sessions.filter((session) => session.group === group).length);
    expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
    expect(await listSessions(store, study.id)).toHaveLength(50);
  });

  it("under the same secret again gives the same session, also with its records, and takes no other place", async () => {
    const { store, link, secret, records } = await started();
    await appendRecords(store, secret, records.slice(0, 1));
    const [again, twice] = await Promise.all([1, 2].map(() => startSession(store, link.token, secret, "browser")));
    expect(again).toEqual(twice);
    expect(again).toMatchObject({ ok: true, session: { participant: 1, records: [{ number: 1 }] } });
    expect(await startSession(store, link.token, "short", "browser")).toMatchObject({ ok: false });
    expect(await store.db.selectFrom("session").select("id").execute()).toHaveLength(1);
  });

  it("is refused on a link that is not there or of a study in the bin", async () => {
    const { store, study, link } = await released();
    expect(await startSession(store, "nowhere", newSecret(), "b")).toMatchObject({ ok: false });
    await store.db.updateTable("study").set({ binned_at: "now" }).where("id", "=", study.id).execute();
    expect(await startSession(store, link.token, newSecret(), "b")).toMatchObject({ ok: false });
  });

  it("plays the release, not the draft that goes on", async () => {
    const { store, study, link } = await released();
    await store.db
      .updateTable("study")
      .set({ document: JSON.stringify({ ...study.document, title: "Changed later" }) })
      .where("id", "=", study.id)
      .execute();
    const session = await startSession(store, link.token, newSecret(), "b");
    expect(session.ok && session.session.document.title).toBe("Harbour lights");
  });

  it("of a rehearsal takes the participant asked for, is marked as pilot and leaves the numbers alone", async () => {
    const { store, study, link } = await released();
    const { session } = await startRehearsal(store, study, { participant: 17 }, "b");
    expect(session).toMatchObject({ participant: 17, pilot: true });
    const real = await startSession(store, link.token, newSecret(), "b");
    expect(real.ok && real.session.participant).toBe(1);
  });

  it("is refused on a release that asks for more than a session may have, in words", async () => {
    const { store, study, link } = await released();
    const large = withBlock(study.document, (block) => {
      for (const row of block.table.rows) row.copies = 10_000;
      block.order.passes = 1000;
    });
    await store.db
      .updateTable("release")
      .set({ document: JSON.stringify(large) })
      .execute();
    expect(await startSession(store, link.token, newSecret(), "b")).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/20,000,000 trials in one session; at most 20,000/),
    });
    await expect(startRehearsal(store, { ...study, document: large }, { participant: 1 }, "b")).rejects.toThrow(
      /20,000,000 trials/,
    );
    expect(await store.db.selectFrom("session").select("id").execute()).toEqual([]);
  });

  it("is not possible on a study with errors, since it cannot be frozen", async () => {
    const { store, study } = await released();
    const broken = withBlock(study.document, (block) => void (block.table.rows = []));
    expect(await freezeRelease(store, { ...study, document: broken }, "")).toMatchObject({
      ok: false,
      findings: [{ message: expect.stringMatching(/empty/) }],
    });
  });
});

describe("records", () => {
  it("are acknowledged up to the last one without a gap, in any order and any batches", async () => {
    const { store, secret, records } = await started();
    const [first, ...rest] = records;
    expect(await appendRecords(store, secret, rest)).toMatchObject({
      ok: true,
      acknowledged: 0,
      finished: false,
      code: null,
    });
    const done = await appendRecords(store, secret, [first]);
    expect(done).toMatchObject({ ok: true, acknowledged: records.length, finished: true });
    expect(done.ok && done.code).toMatch(/^\w{4}-\w{4}$/);
  });

  it("are believed only where they follow by the plan: the others are kept aside, shown, and give no completion code", async () => {
    const { store, study, secret, records } = await started();
    const last = records.length;
    const forged = [
      { kind: "end", number: 1, at: 5 },
      { ...records[1], number: 1 },
      { ...records[0], number: 2 },
      { kind: "end", number: 2, at: 5 },
    ] as SessionRecord[];
    for (const record of forged)
      expect(await appendRecords(store, secret, [record])).toMatchObject({
        acknowledged: 0,
        finished: false,
        code: null,
      });
    // What came before its turn takes its place if it can follow then; these cannot.
    expect(await appendRecords(store, secret, records.slice(0, 1))).toMatchObject({ acknowledged: 1, finished: false });
    expect(await appendRecords(store, secret, records.slice(1))).toMatchObject({ acknowledged: last, finished: true });
    const afterwards = await appendRecords(store, secret, [{ ...records[0], number: last + 1 }]);
    expect(afterwards).toMatchObject({ acknowledged: last, unplanned: [last + 1] });
    expect((await keptAsideOf(store, study, {})).map((kept) => [kept.number, kept.why, kept.stored === null])).toEqual([
      [1, "unplanned", false],
      [1, "unplanned", false],
      [2, "unplanned", false],
      [2, "unplanned", false],
      [last + 1, "unplanned", true],
    ]);
    expect((await resumeSession(store, secret))?.records).toEqual(records);
  });

  it("that cannot follow are replayed no more than now and then, once there are many", async () => {
    const { store, secret, records } = await started();
    for (let count = 0; count < 50; count++)
      await appendRecords(store, secret, [{ ...records[0], shown: 99_000 + count, done: 1 }]);
    const session = (await store.db.selectFrom("session").select("id").executeTakeFirstOrThrow()).id;
    const asked = { session, participant: 1, position: 0, records: records.slice(0, 1), isQuick: true };
    expect(await store.judge(asked)).toEqual({ follow: 0, why: "too many cannot follow" });
    // What can follow is taken with the next try.
    await expect
      .poll(
        async () => (await appendRecords(store, secret, records)).ok && (await resumeSession(store, secret))?.finished,
      )
      .toBe(true);
  });

  it("of the first form that are damaged are refused in words", async () => {
    const { store, secret, records } = await started();
    const news = ["answers", "observed", "placed"];
    const rest = Object.fromEntries(Object.entries(records[1] ?? {}).filter(([name]) => !news.includes(name)));
    for (const answer of [5, "x", {}, { value: 5 }, { value: null }, []])
      expect(
        await appendRecords(store, secret, [{ ...rest, answer, tooLate: null, right: true, outcome: "right" }]),
      ).toEqual({ ok: false, reason: "Record 1 of those sent does not fit this study." });
    const deep = JSON.parse(`${"[".repeat(5000)}${"]".repeat(5000)}`) as unknown;
    for (const sent of [deep, { records: [], log: deep }, [{ ...records[0], done: deep }]])
      expect(await appendRecords(store, secret, sent)).toMatchObject({ ok: false });
  });

  it("of one session that come in many requests at once are stored each once, in order", async () => {
    const { store, secret, records } = await started();
    const answers = await Promise.all(
      records.flatMap((record) => [appendRecords(store, secret, [record]), appendRecords(store, secret, [record])]),
    );
    expect(Math.max(...answers.map((answer) => (answer.ok ? answer.acknowledged : 0)))).toBe(records.length);
    expect((await resumeSession(store, secret))?.records).toEqual(records);
    expect(await store.db.selectFrom("refused_record").selectAll().execute()).toEqual([]);
  });

  it("are stored once however often they are sent, and come back as they were", async () => {
    const { store, secret, records } = await started();
    for (let time = 0; time < 3; time++) await appendRecords(store, secret, records.slice(0, 3));
    expect((await resumeSession(store, secret))?.records).toEqual(records.slice(0, 3));
    expect((await store.db.selectFrom("refused_record").selectAll().execute()).length).toBe(0);
  });

  it("are never overwritten: a differing one under a used number is kept aside and named", async () => {
    const { store, secret, records } = await started();
    await appendRecords(store, secret, records.slice(0, 2));
    const changed = { ...records[0], done: 99_999 };
    expect(await appendRecords(store, secret, [changed])).toMatchObject({ ok: true, acknowledged: 2, keptAside: [1] });
    expect((await resumeSession(store, secret))?.records[0]).toEqual(records[0]);
    expect(await store.db.selectFrom("refused_record").select("number").execute()).toEqual([{ number: 1 }]);
  });

  it.each([
    ["no list", { a: 1 }],
    ["an unknown kind", [{ kind: "note", number: 1 }]],
    ["an unknown field", [{ kind: "end", number: 1, at: 5, extra: 1 }]],
    ["a part that is not in the release", [{ kind: "page", number: 1, part: "gone", shown: 0, done: 1 }]],
    ["a negative time", [{ kind: "end", number: 1, at: -5 }]],
    ["a number of none", [{ kind: "end", number: 0, at: 5 }]],
    ["a trial beyond the plan", [{ ...trialOf(1), trial: 900 }]],
    ["a row that is not in the release", [{ ...trialOf(1), row: "gone" }]],
    [
      "a scene that is not in the release",
      [{ ...trialOf(1), scenes: [{ scene: "x", onset: 0, end: 1, planned: null }] }],
    ],
    ["answers that are not the block's", [{ ...trialOf(1), answers: [] }]],
    ["an unknown field deep within", [{ ...trialOf(1), observed: [{ item: "i", what: "began", at: 1, by: "me" }] }]],
    ["a number beyond all that can be", [{ kind: "end", number: 5_000_000, at: 5 }]],
    [
      "a part by the name of something inherited",
      [{ kind: "page", number: 1, part: "constructor", shown: 0, done: 1 }],
    ],
    ["something beside records and log", { records: [], log: [], also: 1 }],
    ["a log of another form", { records: [], log: [{ opening: "a b", number: 1, entries: [] }] }],
    [
      "a log of unknown events",
      { records: [], log: [{ opening: "a", number: 1, entries: [{ at: 1, what: "seen" }] }] },
    ],
    ["far too many", Array.from({ length: 501 }, () => ({ kind: "end", number: 1, at: 5 }))],
  ])("are refused as a whole when they are %s", async (_, sent) => {
    const { store, secret } = await started();
    expect((await appendRecords(store, secret, sent)).ok).toBe(false);
    expect((await resumeSession(store, secret))?.records).toEqual([]);
  });

  it.skipIf(isOnPostgres)(
    "are refused as a whole while the disk is full, and taken when there is room again",
    async () => {
      const { store, secret, records } = await started();
      const pages = async (most: number) => sql`pragma max_page_count = ${sql.raw(String(most))}`.execute(store.db);
      const { rows } = await sql<{ page_count: number }>`pragma page_count`.execute(store.db);
      await pages((rows[0]?.page_count ?? 0) + 1);
      const large = {
        opening: "a",
        number: 1,
        entries: Array.from({ length: 2000 }, () => ({ at: 1, what: "key-down", value: "x".repeat(200) })),
      };
      const failed = await appendRecords(store, secret, { records: records.slice(0, 2), log: [large] }).catch(
        (error: unknown) => error,
      );
      expect(isBusy(failed)).toBe(true);
      expect((await resumeSession(store, secret))?.records).toEqual([]);
      await pages(1_000_000);
      expect(await appendRecords(store, secret, { records, log: [large] })).toMatchObject({
        acknowledged: records.length,
        finished: true,
      });
    },
  );

  it("bring the log along, stored once however often it is sent", async () => {
    const { store, secret, records } = await started();
    const display = {
      ...{ refreshMs: 16.7, refreshSd: 0.01, width: 1280, height: 800 },
      ...{ pixelRatio: 1, isolated: true, soundLatencyMs: null },
    };
    const log = [
      { opening: "a", number: 1, entries: [{ at: 1.5, what: "opened" }] },
      { opening: "a", number: 2, entries: [{ at: 2, what: "display", value: JSON.stringify(display) }] },
      { opening: "a", number: 3, entries: [{ at: 3, what: "display", value: '{"refreshMs":"no number"' }] },
    ];
    for (let time = 0; time < 2; time++)
      expect(await appendRecords(store, secret, { records: records.slice(0, 1), log })).toMatchObject({
        acknowledged: 1,
      });
    expect((await store.db.selectFrom("session_log").select("number").execute()).length).toBe(3);
    // A malformed display is stored as sent, and treated as none.
    const { display: kept } = await store.db.selectFrom("session").select("display").executeTakeFirstOrThrow();
    expect(JSON.parse(kept ?? "")).toEqual(display);
  });

  it("can fill only so much of the database: what lies beside them has less room, and nothing counts twice", async () => {
    const { store, study, secret, records } = await started();
    const log = [{ opening: "a", number: 1, entries: [{ at: 1, what: "opened" }] }];
    const session = () =>
      store.db.selectFrom("session").select(["stored_characters", "records"]).executeTakeFirstOrThrow();
    const fill = (stored_characters: number) => store.db.updateTable("session").set({ stored_characters }).execute();
    const [first, second] = records;
    await appendRecords(store, secret, { records: [first], log });
    const once = (await session()).stored_characters;
    expect(once).toBe(JSON.stringify(first).length + JSON.stringify(log[0]?.entries).length);
    await appendRecords(store, secret, { records: [first], log });
    expect((await session()).stored_characters).toBe(once);
    await fill(roomOf(2, plainStudy()).beside);
    const more = [{ ...log[0], number: 2 }];
    const other = { ...first, done: 1e6 };
    expect(await appendRecords(store, secret, { records: [second, other], log: more })).toMatchObject({
      acknowledged: 2,
      keptAside: [1],
    });
    expect(await store.db.selectFrom("session_log").select("number").execute()).toEqual([{ number: 1 }]);
    expect(await store.db.selectFrom("refused_record").selectAll().execute()).toEqual([]);
    await fill(roomOf(2, plainStudy()).all + 1);
    expect(await appendRecords(store, secret, { records: records.slice(2), log: [] })).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/more than a session may/) as string,
    });
    expect((await session()).records).toBe(2);
    // The researcher is told before it is full.
    await fill(roomOf(2, plainStudy()).all * 0.83);
    expect((await listSessions(store, study.id))[0]?.full).toBeCloseTo(0.83);
  });

  it("of somebody who left are kept or removed as the study says, and removed ones do not come back", async () => {
    for (const withdrawn of ["keep", "remove"] as const) {
      const document = withBlock(plainStudy(), (_, copy) => void (copy.settings.participation.withdrawn = withdrawn));
      const { store, study, link } = await released(document);
      const secret = newSecret();
      const session = await startSession(store, link.token, secret, "b");
      if (!session.ok) throw new Error(session.reason);
      const page = recordsFor(session.session.group)[0];
      const sent = [page, { kind: "end", number: 2, at: 50_000, withdrawn: true }];
      for (let time = 0; time < 2; time++)
        expect(await appendRecords(store, secret, sent)).toMatchObject({ acknowledged: 2, finished: true, code: null });
      expect((await store.db.selectFrom("record").select("number").execute()).length).toBe(
        withdrawn === "keep" ? 2 : 0,
      );
      expect(await listSessions(store, study.id)).toMatchObject([
        { state: "withdrawn", removed: withdrawn === "remove" },
      ]);
    }
  });

  it("from a file that a participant saved are taken in, and the session finished", async () => {
    const { store, secret, records } = await started();
    await appendRecords(store, secret, records.slice(0, 2));
    const { id } = await store.db.selectFrom("session").select("id").executeTakeFirstOrThrow();
    const file = { format: "lapwing-answers", version: 1, session: id, records: records.slice(1), log: [] };
    expect(await takeInSaved(store, file)).toMatchObject({ ok: true, acknowledged: records.length, finished: true });
    expect(await takeInSaved(store, { ...file, session: "s-none" })).toMatchObject({ ok: false });
  });

  it("need the session's own secret", async () => {
    const { store, records } = await started();
    expect(await appendRecords(store, "guessed", records)).toMatchObject({ ok: false });
    expect(await resumeSession(store, "guessed")).toBeNull();
  });
});

describe("a session at another computer", () => {
  const movable = withBlock(plainStudy(), (_, copy) => void (copy.settings.participation.elsewhere = true));
  const begin = (store: Store, token: string, code: string, secret: string) =>
    startSession(store, token, secret, "b", { participant: code });

  it("goes on with the code that was given out, where the study allows it; the first one can only send what it still has", async () => {
    const { store, study, link } = await released(movable);
    const [first, second] = [newSecret(), newSecret()];
    const started = await begin(store, link.token, "tern", first);
    if (!started.ok) throw new Error(started.reason);
    expect(started.session.goOn).toMatch(/^\w{4}-\w{4}$/);
    const records = recordsFor(started.session.group);
    await appendRecords(store, first, records.slice(0, 2));
    // Whoever knows the link and the code a participant chose gets nothing of theirs.
    // A code of one's own links sittings, and is never answered with “taken”.
    const other = await begin(store, link.token, "tern", newSecret());
    expect(other.ok && other.session.session !== started.session.session && other.session.participant).toBe(1);
    expect(await startSession(store, link.token, second, "b", {}, { goOn: "AAAA-AAAA" })).toMatchObject({
      ok: false,
      goOn: "unknown",
    });
    // By a link that was closed since nothing begins, and this goes on.
    await setLink(store, study.id, link.token, { open: false });
    expect(await startSession(store, link.token, newSecret(), "b")).toMatchObject({ ok: false });
    const moved = await startSession(
      store,
      link.token,
      second,
      "b",
      {},
      { goOn: ` ${started.session.goOn?.toLowerCase()}` },
    );
    expect(moved).toMatchObject({ ok: true, session: { session: started.session.session, records: [{}, {}] } });
    expect(await resumeSession(store, first)).toBeNull();
    expect(await appendRecords(store, first, records.slice(2, 3))).toMatchObject({ acknowledged: 3, superseded: true });
    expect(await appendRecords(store, second, records.slice(3))).toMatchObject({ finished: true, superseded: false });
  });

  it("does not where the study does not allow it, under another code, or once it is finished", async () => {
    const { store, link } = await released(plainStudy());
    const first = await begin(store, link.token, "tern", newSecret());
    const second = await begin(store, link.token, "tern", newSecret());
    expect(first.ok && second.ok && first.session.session !== second.session.session).toBe(true);
    const other = await released(movable);
    const secret = newSecret();
    const one = await begin(other.store, other.link.token, "tern", secret);
    const two = await begin(other.store, other.link.token, "gull", newSecret());
    if (!one.ok || !two.ok) throw new Error("not started");
    expect(two.session.session).not.toBe(one.session.session);
    await appendRecords(other.store, secret, recordsFor(one.session.group));
    const later = await begin(other.store, other.link.token, "tern", newSecret());
    expect(later.ok && later.session.session !== one.session.session && later.session.participant).toBe(1);
  });
});

describe("places", () => {
  const spread = withBlock(plainStudy(), (block, document) => {
    document.groups = ["a", "b"].map((id) => ({ id, name: id }));
    document.parts["second"] = { ...structuredClone(block), id: "second", name: "Second" };
    document.runningOrder.splice(1, 1, {
      kind: "bracket",
      id: "x",
      arrange: "latin-square",
      nodes: [
        { kind: "part", part: block.id },
        { kind: "part", part: "second" },
      ],
    });
  });
  const begin = async (store: Store, token: string, parameters: Record<string, string> = {}) => {
    const started = await startSession(store, token, newSecret(), "browser", parameters);
    if (!started.ok) throw new Error(started.reason);
    return started.session;
  };
  const cell = ({ group, orders }: SessionData) => `${group}${orders["x"]}`;

  it("of those who break off are given out again once they are no longer active, and left-out sessions give theirs back", async () => {
    const { store, study, link } = await released(spread);
    const first = [];
    for (let count = 0; count < 4; count++) first.push(await begin(store, link.token));
    expect(new Set(first.map(cell)).size).toBe(4);
    const hourAgo = new Date(Date.now() - 61 * 60_000).toISOString();
    await store.db.updateTable("session").set({ seen_at: hourAgo }).where("id", "=", first[1]!.session).execute();
    expect(cell(await begin(store, link.token))).toBe(cell(first[1]!));
    await setExcluded(store, study.id, first[2]!.session, true);
    expect(cell(await begin(store, link.token))).toBe(cell(first[2]!));
  });

  it("start variables from the link, and a later sitting with what was kept", async () => {
    const study = withBlock(plainStudy(), (block, document) => {
      document.variables = [
        { id: "level", name: "level", type: "number", start: 1, from: { urlParameter: "level" }, kept: true },
        { id: "other", name: "other", type: "number", start: 1 },
      ];
      block.rules = [
        {
          id: "up",
          name: "",
          when: { on: "part-ends" },
          do: ["level", "other"].map((variable) => ({ do: "add" as const, what: { variable }, to: 10 })),
        },
      ];
    });
    const { store, link } = await released(study);
    const sit = async (parameters: Record<string, string>) => {
      const secret = newSecret();
      const begun = await startSession(store, link.token, secret, "browser", { participant: "wader", ...parameters });
      if (!begun.ok) throw new Error(begun.reason);
      const { session } = begun;
      const { group, orders, participant, seed, begins } = session;
      const { given } = begins;
      const { records } = simulateSession(study, participant, { group, orders }, seed, plainModel, Infinity, given);
      const answer = await appendRecords(store, secret, records);
      expect(answer).toMatchObject({ ok: true, acknowledged: records.length, finished: true });
      return { given, again: await resumeSession(store, secret) };
    };
    const first = await sit({ level: "3" });
    expect(first.given).toEqual({ level: 3 });
    expect(first.again).toMatchObject({ begins: { given: { level: 3 } } });
    expect((await sit({})).given).toEqual({ level: 13 });
    expect((await sit({ level: "x" })).given).toEqual({ level: 23 });
  });

  it("stay with a participant who comes again under the same name; the trials of the later sitting are drawn anew", async () => {
    const { store, study, link } = await released(spread);
    await begin(store, link.token);
    const one = await begin(store, link.token, { participant: "heron" });
    await begin(store, link.token);
    const two = await begin(store, link.token, { participant: "heron" });
    expect([two.participant, two.group, two.orders]).toEqual([one.participant, one.group, one.orders]);
    expect(two.seed).not.toBe(one.seed);
    expect((await listSessions(store, study.id)).map(({ sitting }) => sitting).toSorted()).toEqual([1, 1, 1, 2]);
  });

  it("by a parameter of the link: the group it names, or a refusal that says what is missing", async () => {
    const { store, link } = await released({
      ...spread,
      allocation: {
        ...spread.allocation,
        method: "by-parameter",
        parameter: { name: "tide", values: { a: "low", b: "high" }, otherwise: "refuse" },
        strata: [{ parameter: "age", values: ["young", "old"] }],
      },
    });
    expect((await begin(store, link.token, { tide: "HIGH", age: "old" })).group).toBe("b");
    const refused = (parameters: Record<string, string>) =>
      startSession(store, link.token, newSecret(), "browser", parameters);
    expect(await refused({ tide: "low" })).toMatchObject({
      ok: false,
      reason: expect.stringContaining("its “age” should be young or old") as string,
    });
    expect(await refused({ age: "old" })).toMatchObject({
      ok: false,
      reason: expect.stringContaining("“tide” does not name a group") as string,
    });
  });

  it("fill each stratum by itself", async () => {
    const { store, link } = await released({
      ...spread,
      allocation: { ...spread.allocation, strata: [{ parameter: "age", values: ["young", "old"] }] },
    });
    for (const age of ["young", "old"]) {
      const cells: string[] = [];
      for (let count = 0; count < 4; count++) cells.push(cell(await begin(store, link.token, { age })));
      expect(new Set(cells).size).toBe(4);
    }
  });
});
