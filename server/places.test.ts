import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import { adult, begun, playedBy, whole, type Person } from "~/tests/support/opening";
import { released } from "~/tests/support/store";
import { cellCounts } from "./cell-counts";
import { newSecret } from "./chance";
import { placeSession } from "./places";
import { appendRecords } from "./records";
import { listSessions } from "./session-list";
import { resumeSession } from "./session-of-secret";
import { startRehearsal } from "./rehearsals";
import { startInLab, startSession } from "./sessions";

describe("places that are given after the first pages", () => {
  it("go only to those who come there: who declines or is screened out has no number and takes no place", async () => {
    const { store, study, link } = await released(studyWithOpening());
    const people: Person[] = [
      adult,
      { takesPart: "no", age: 40 },
      { takesPart: "yes", age: 16 },
      { takesPart: "yes", age: 24 },
    ];
    const places = [];
    for (const person of people) places.push((await whole(store, link.token, person)).place?.participant ?? null);
    expect(places).toEqual([1, null, null, 2]);
    const sessions = (await listSessions(store, study.id)).toSorted((a, b) => (a.startedAt < b.startedAt ? -1 : 1));
    expect(sessions.map(({ participant, state }) => [participant, state]).toSorted()).toEqual(
      [
        [0, "declined"],
        [0, "screened-out"],
        [1, "finished"],
        [2, "finished"],
      ].toSorted(),
    );
    const counts = await cellCounts(store.db, study.id, study.document, null);
    expect([...counts].toSorted()).toEqual([
      ["early", 1],
      ["late", 1],
    ]);
  });

  it("are balanced within strata told by answers, also when many come at once", async () => {
    const { store, study, link } = await released(studyWithOpening());
    const people = Array.from({ length: 40 }, (_, index): Person => {
      if (index % 10 === 3) return { takesPart: "no", age: 50 };
      return { takesPart: "yes", age: index % 10 === 7 ? 15 : index % 3 === 0 ? 61 : 22 };
    });
    const all = await Promise.all(people.map((person) => whole(store, link.token, person)));
    const numbers = all.flatMap(({ place }) => place?.participant ?? []).toSorted((a, b) => a - b);
    expect(numbers).toEqual(Array.from({ length: 32 }, (_, index) => index + 1));
    for (const stratum of ["below 30", "30 or more"]) {
      const counts = [...(await cellCounts(store.db, study.id, study.document, stratum)).values()];
      expect(counts).toHaveLength(2);
      expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
    }
  });

  it("are given once, however often and at the same time they are asked for, and are there after a reload", async () => {
    const { store, link } = await released(studyWithOpening());
    const { secret, session, before } = await begun(store, link.token, adult, { from: "the board" });
    expect(session).toMatchObject({ participant: 0, group: "", entered: 1 });
    const kept = async () => (await store.db.selectFrom("session").select("asked").execute()).map(({ asked }) => asked);
    expect(await kept()).toEqual([JSON.stringify({ parameters: {}, participant: null, group: null })]);
    expect(await resumeSession(store, secret)).toMatchObject({ participant: 0, entered: 1, records: before });
    const asked = await Promise.all([1, 2, 3].map(() => placeSession(store, secret)));
    expect(asked).toEqual(Array.from({ length: 3 }, () => asked[0]));
    expect(await resumeSession(store, secret)).toMatchObject({ participant: 1, entered: 1, records: before });
    expect(await kept()).toEqual([null]);
    expect((await begun(store, link.token, adult)).session.entered).toBe(2);
  });

  it("are not given before all of the first pages are stored, and nothing after them is taken before", async () => {
    const { store, link } = await released(studyWithOpening());
    const secret = newSecret();
    const started = await startSession(store, link.token, secret, "browser");
    if (!started.ok) throw new Error(started.reason);
    const place = { participant: 1, group: "early", orders: {} };
    const { all, before } = playedBy(started.session, adult, place);
    await appendRecords(store, secret, before.slice(0, 2));
    expect(await placeSession(store, secret)).toMatchObject({ ok: false, isEarly: true });
    const early = await appendRecords(store, secret, all.slice(2));
    expect(early).toMatchObject({ acknowledged: before.length, unplanned: [before.length + 1] });
    expect(await placeSession(store, secret)).toMatchObject({ ok: true, place: { participant: 1 } });
    expect(await placeSession(store, newSecret())).toMatchObject({ ok: false });
    const ended = await begun(store, link.token, { takesPart: "no", age: 30 });
    expect(await placeSession(store, ended.secret)).toMatchObject({ ok: false, isEarly: true });
  });

  it("are kept by who comes again by the same code, and asked of the experimenter where they chose", async () => {
    const { store, study, link } = await released(studyWithOpening());
    const gone = await begun(store, link.token, { takesPart: "yes", age: 15 }, { participant: "tern" });
    expect(gone.before.at(-1)?.kind).toBe("end");
    const first = await whole(store, link.token, adult, { participant: "tern" });
    const again = await startSession(store, link.token, newSecret(), "browser", { participant: "tern" });
    expect(again).toMatchObject({ ok: true, session: first.place! });
    const asked = { participant: 12, group: "late", parameters: {} };
    const lab = await startInLab(store, study.id, link.waveId, asked, "browser");
    if (!lab.ok) throw new Error(lab.reason);
    const { before } = playedBy((await resumeSession(store, lab.secret))!, adult);
    await appendRecords(store, lab.secret, before);
    expect(await placeSession(store, lab.secret)).toMatchObject({ place: { participant: 12, group: "late" } });
  });

  it("of a number that an experimenter asked for and somebody else got meanwhile are the next", async () => {
    const { store, study, link } = await released(studyWithOpening());
    const asked = { participant: 1, group: "late", parameters: {} };
    const [one, two] = [1, 2].map(() => startInLab(store, study.id, link.waveId, asked, "browser"));
    const places = [];
    for (const lab of [await one!, await two!]) {
      if (!lab.ok) throw new Error(lab.reason);
      const { before } = playedBy((await resumeSession(store, lab.secret))!, adult);
      await appendRecords(store, lab.secret, before);
      const placed = await placeSession(store, lab.secret);
      places.push(placed.ok ? [placed.place.participant, placed.place.group] : placed.reason);
    }
    expect(places).toEqual([
      [1, "late"],
      [2, "late"],
    ]);
    expect((await whole(store, link.token, adult)).place?.participant).toBe(3);
  });

  it("are there from the beginning in a rehearsal, whose participant is chosen", async () => {
    const { store, study } = await released(studyWithOpening());
    const { session } = await startRehearsal(store, study, { participant: 5 }, "browser");
    expect(session).toMatchObject({ participant: 5, entered: 5 });
    expect(session.group).not.toBe("");
  });
});
