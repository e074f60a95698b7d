import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { addLink } from "./links";
import { liveSummary, pulseOf } from "./live";
import { appendRecords } from "./records";
import { countSought, listSessions, type ShownState, type Sought } from "./session-list";
import { setExcluded, startSession } from "./sessions";

const minutesAgo = (minutes: number) => new Date(Date.now() - minutes * 60_000).toISOString();

/** Six who come: two finish, one leaves, one is broken off after the first page, one before, one takes part. */
async function six() {
  const document = { ...plainStudy(), groups: ["early", "late"].map((id) => ({ id, name: id })) };
  const there = await released(document);
  const { store, study, link } = there;
  const other = await addLink(store, study.id, link.waveId, "Poster");
  if (!("link" in other)) throw new Error(other.reason);
  const sessions: string[] = [];
  const begin = async (upTo: number | "end" | "leave", by = link.token, code?: string) => {
    const secret = newSecret();
    const started = await startSession(store, by, secret, "b", code === undefined ? {} : { participant: code });
    if (!started.ok) throw new Error(started.reason);
    const { session } = started;
    const { records } = simulateSession(document, session.participant, session, session.seed, plainModel);
    const sent =
      upTo === "end"
        ? records
        : upTo === "leave"
          ? [records[0], { kind: "end", number: 2, at: 90_000, withdrawn: true }]
          : records.slice(0, upTo);
    if (sent.length > 0) expect(await appendRecords(store, secret, sent)).toMatchObject({ ok: true, unplanned: [] });
    sessions.push(session.session);
    return { secret, records, id: session.session };
  };
  await begin("end");
  await begin("end", other.link.token, "Knot_7");
  await begin("leave");
  const broken = await begin(1);
  const unread = await begin(0);
  const here = await begin(2);
  for (const { id } of [broken, unread])
    await store.db
      .updateTable("session")
      .set({ seen_at: minutesAgo(600) })
      .where("id", "=", id)
      .execute();
  return { ...there, document, other: other.link, sessions, here };
}

it("tells how long sessions take, at which part people left, and what needs somebody", async () => {
  const { store, study, link, document, sessions } = await six();
  for (const [index, minutes] of [10, 20].entries())
    await store.db
      .updateTable("session")
      .set({ started_at: minutesAgo(minutes), finished_at: minutesAgo(0) })
      .where("id", "=", sessions[index] ?? "")
      .execute();
  const summary = await liveSummary(store, study.id, link.waveId, document);
  // Two have finished, and one is here; who left or is long gone holds no place.
  expect(Object.values(summary.cells).reduce((sum, count) => sum + count, 0)).toBe(3);
  expect(summary.minutes?.median).toBeCloseTo(10, 1);
  expect(summary.minutes?.upper).toBeCloseTo(20, 1);
  const first = document.runningOrder[0];
  const part = first?.kind === "part" ? first.part : "";
  expect(summary.leaving).toEqual([
    { part: null, count: 1 },
    { part, count: 2 },
  ]);
  expect(summary.messages).toEqual([]);
  // Of those who had enough scenes to tell, many had late ones.
  await store.db.updateTable("session").set({ scenes: 100, late: 5 }).execute();
  expect((await liveSummary(store, study.id, link.waveId, document)).messages).toEqual([]);
  await store.db.updateTable("session").set({ late: 6 }).where("id", "in", sessions.slice(0, 3)).execute();
  expect((await liveSummary(store, study.id, link.waveId, document)).messages).toEqual([
    "In 3 of 6 sessions more than 5 % of scenes were late. Look at timing in Results.",
  ]);
  await store.db.updateTable("session").set({ scenes: 0, late: 0 }).execute();
  // What does not count is left out of it.
  await setExcluded(store, study.id, sessions[3] ?? "", true);
  expect((await liveSummary(store, study.id, link.waveId, document)).leaving).toEqual([
    { part: null, count: 1 },
    { part, count: 1 },
  ]);
});

describe("sessions", () => {
  it("are looked for by state, group, link, number and code", async () => {
    const { store, study, link, other, sessions } = await six();
    await setExcluded(store, study.id, sessions[0] ?? "", true);
    const found = async (sought: Sought) => {
      const lines = await listSessions(store, study.id, { ...sought, order: "number" });
      expect(await countSought(store, study.id, sought)).toBe(lines.length);
      return lines.map(({ participant }) => participant);
    };
    const byState: Record<ShownState, number[]> = {
      ...{ active: [6], "broken-off": [4, 5], finished: [2], ended: [3], "not-counted": [1], pilot: [] },
    };
    for (const [state, expected] of Object.entries(byState))
      expect(await found({ state: state as ShownState }), state).toEqual(expected);
    const [early, late] = [await found({ group: "early" }), await found({ group: "late" })];
    expect([...early, ...late].toSorted()).toEqual([1, 2, 3, 4, 5, 6]);
    expect(early).toHaveLength(3);
    expect(await found({ link: other.token })).toEqual([2]);
    expect(await found({ link: link.token })).toEqual([1, 3, 4, 5, 6]);
    expect(await found({ search: "4" })).toEqual([4]);
    expect(await found({ search: " knot_" })).toEqual([2]);
    // What a pattern would mean is taken as it is written.
    expect(await found({ search: "%" })).toEqual([]);
    expect(await found({ search: "k_ot" })).toEqual([]);
    expect(await found({ search: (await listSessions(store, study.id))[0]?.id ?? "" })).toHaveLength(1);
  });

  it("tell of late scenes, looking away, and what waits at the participant's", async () => {
    const { store, study, here } = await six();
    const of = async () => (await listSessions(store, study.id)).find(({ id }) => id === here.id);
    const before = await pulseOf(store, study.id);
    expect(await pulseOf(store, study.id)).toBe(before);
    const trial = structuredClone(here.records[2]);
    if (trial?.kind !== "trial") throw new Error("no trial");
    const ended = trial.scenes.map((scene, index) => ({
      ...scene,
      ended: { by: "time" as const, frames: index === 0 ? 19 : 18, planned: 18 },
    }));
    const log = [
      {
        ...{ opening: "a", number: 1 },
        entries: (["hidden", "focus-lost", "focus-back", "full-screen-left"] as const).map((what) => ({ at: 1, what })),
      },
    ];
    const sent = { records: [{ ...trial, scenes: ended }], log, waiting: 7 };
    expect(await appendRecords(store, here.secret, sent)).toMatchObject({ acknowledged: 3 });
    const told = { late: 1, lookedAway: 2, waiting: 7 };
    expect(await of()).toMatchObject(told);
    expect(await pulseOf(store, study.id)).not.toBe(before);
    // The same again changes nothing but what waits.
    await appendRecords(store, here.secret, { ...sent, waiting: 0 });
    expect(await of()).toMatchObject({ ...told, waiting: 0 });
  });
});
