import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { withBlock, plainStudy } from "~/tests/support/studies";
import { newWavePlan, type WavePlan } from "../core/collect/wave";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { DataReader } from "./export/reader";
import { entryOf } from "./entering";
import { addWave } from "./new-wave";
import { appendRecords } from "./records";
import { freezeRelease } from "./releases";
import { setExcluded, startInLab, startSession } from "./sessions";
import { addStudy, saveEdit, findStudyByCode } from "./studies";
import { applyEdit } from "../core/design/edits/edit";
import { setTitle } from "../core/design/edits/study";
import { linksOf } from "./links";
import { countSessions, listSessions } from "./session-list";
import { answered } from "./results/registry";
import { removeWave, setWave, wavesOf, type WaveChange } from "./waves";

const nobody = { participant: null, group: null, parameters: {} };

async function waved(more: Partial<WavePlan> = {}) {
  const whole = await released();
  const { store, study, link } = whole;
  const wave = (await wavesOf(store.db, study.id))[0]!;
  await setWave(store, study.id, wave.id, { plan: { ...wave.plan, ...more } });
  const start = (token = link.token, secret = newSecret()) => startSession(store, token, secret, "b");
  const set = (change: WaveChange) => setWave(store, study.id, wave.id, change);
  return { ...whole, wave, start, set };
}
type Waved = Awaited<ReturnType<typeof waved>>;

/** Begins a session, to be played to its end later. */
async function begun({ store, start }: Waved, token?: string) {
  const secret = newSecret();
  const started = await start(token, secret);
  if (!started.ok) throw new Error(started.reason);
  const { participant, group, orders, seed, session } = started.session;
  const { records } = simulateSession(plainStudy(), participant, { group, orders }, seed, plainModel);
  return { session, finish: () => appendRecords(store, secret, records) };
}

describe("a wave", () => {
  it("is there with the first release; of those that run an earlier one only they that are told move to the next", async () => {
    const { store, study, wave, link, start } = await waved();
    expect(wave).toMatchObject({ plan: newWavePlan("First wave"), state: "open", id: link.waveId });
    const made = await addWave(store, study.id, wave.releaseId, "Retest");
    const retest = "id" in made ? made.id : "";
    const old = await start();
    const { patches, inverse } = applyEdit(study.document, setTitle("Lights, again"));
    await saveEdit(store, study.id, 1, patches, inverse);
    const draft = (await findStudyByCode(store, study.code))!;
    const second = await freezeRelease(store, draft, "A title.", { by: "Owner", waves: [retest] });
    if (!second.ok) throw new Error("not released");
    expect(second).toMatchObject({ link: null, release: { number: 2, by: "Owner" } });
    expect((await wavesOf(store.db, study.id)).map(({ releaseId }) => releaseId)).toEqual([
      wave.releaseId,
      second.release.id,
    ]);
    const own = (await linksOf(store, study.id)).find(({ waveId }) => waveId === retest)!;
    const fresh = await start(own.token);
    expect([old, fresh].map((each) => each.ok && each.session.document.title)).toEqual([
      study.document.title,
      "Lights, again",
    ]);
    // Moved later, it takes along nobody who has begun.
    expect(await setWave(store, study.id, wave.id, { release: second.release.id })).toBeNull();
    const sessions = await listSessions(store, study.id, { wave: wave.id });
    expect(sessions.map(({ release }) => release)).toEqual([1]);
    expect(
      (await start()).ok && (await listSessions(store, study.id, { wave: wave.id })).map(({ release }) => release),
    ).toEqual([2, 1]);
  });

  it("is changed only with what is the study's own, and removed only while nothing was begun in it", async () => {
    const { store, study, wave, start, set } = await waved();
    const other = await addStudy(store, study.ownerId, plainStudy());
    const theirs = await freezeRelease(store, other, "");
    const foreign = theirs.ok ? theirs.release.id : "";
    expect(await set({ release: foreign })).toMatch(/release is gone/);
    expect(await addWave(store, study.id, foreign, "No")).toMatchObject({
      reason: expect.stringMatching(/gone/) as string,
    });
    expect(await setWave(store, other.id, wave.id, { state: "closed" })).toMatch(/wave is gone/);
    expect(await removeWave(store, study.id, wave.id)).toMatch(/at least one wave/);
    const made = await addWave(store, study.id, wave.releaseId, "Retest");
    const retest = "id" in made ? made.id : "";
    expect(await removeWave(store, other.id, retest)).toMatch(/wave is gone/);
    await start();
    expect(await removeWave(store, study.id, wave.id)).toMatch(/sessions were begun/);
    expect(await removeWave(store, study.id, retest)).toBeNull();
    expect((await linksOf(store, study.id)).map(({ waveId }) => waveId)).toEqual([wave.id]);
  });

  it("lets nobody begin while it is paused, with the reason, and who has begun goes on", async () => {
    const whole = await waved();
    const { store, link, set, start, study, wave } = whole;
    const inside = await begun(whole);
    await set({ state: "paused", says: "Back on Monday." });
    expect(await start()).toEqual({ ok: false, reason: "Back on Monday." });
    expect((await entryOf(store, link.token))?.closed).toBe("Back on Monday.");
    expect(await startInLab(store, study.id, wave.id, nobody, "b")).toMatchObject({ ok: false });
    expect(await inside.finish()).toMatchObject({ ok: true, finished: true });
    await set({ state: "closed", says: "" });
    expect(await start()).toMatchObject({
      reason: expect.stringMatching(/^This link does not lead to a study/) as string,
    });
    await set({ state: "open" });
    expect(await start()).toMatchObject({ ok: true });
    expect(await startInLab(store, study.id, wave.id, nobody, "b")).toMatchObject({ ok: true });
  });

  it("closes itself at its target: those inside finish, nobody else begins, and one left out makes room", async () => {
    const whole = await waved({ target: 3 });
    const { store, study, start } = whole;
    const first = await Promise.all(Array.from({ length: 5 }, () => begun(whole)));
    for (const { finish } of first.slice(0, 2)) await finish();
    const last = await begun(whole);
    await last.finish();
    const refused = await Promise.all(Array.from({ length: 50 }, () => start()));
    expect(refused.filter(({ ok }) => ok)).toEqual([]);
    expect(refused[0]).toMatchObject({ reason: expect.stringMatching(/all the participants it needs/) as string });
    for (const { finish } of first.slice(2)) await finish();
    expect(await countSessions(store, study.id)).toMatchObject({ started: 6, finished: 6 });
    for (const { session } of first.slice(0, 4)) await setExcluded(store, study.id, session, true);
    expect(await start()).toMatchObject({ ok: true });
  });

  it("lets no more in than those under way leave room for, also where fifty begin at once", async () => {
    const whole = await waved({ target: 12, closes: "under-way" });
    const { store, start } = whole;
    const started = await Promise.all(Array.from({ length: 50 }, () => start()));
    expect(started.filter(({ ok }) => ok)).toHaveLength(12);
    const one = started.find((each) => each.ok);
    const gone = new Date(Date.now() - 86_400_000).toISOString();
    await store.db
      .updateTable("session")
      .set({ seen_at: gone })
      .where("id", "=", one!.ok ? one!.session.session : "")
      .execute();
    const again = await Promise.all(Array.from({ length: 5 }, () => start()));
    expect(again.filter(({ ok }) => ok)).toHaveLength(1);
  });

  it.each([
    ["study", [4, 4]],
    ["wave", [3, 5]],
  ] as const)("fills groups evenly %s by %s", async (places, counts) => {
    const document = withBlock(plainStudy(), () => undefined);
    const { store, study, link } = await released({
      ...document,
      groups: [...document.groups, { ...document.groups[0]!, id: "late", name: "Late" }],
    });
    const wave = (await wavesOf(store.db, study.id))[0]!;
    const start = async (token: string) => {
      const started = await startSession(store, token, newSecret(), "b");
      if (!started.ok) throw new Error(started.reason);
      return started.session.group;
    };
    // In the first wave one group is ahead.
    for (let times = 0; times < 2; times++)
      await startInLab(store, study.id, wave.id, { ...nobody, group: "late" }, "b");
    const made = await addWave(store, study.id, wave.releaseId, "Retest");
    const retest = "id" in made ? made.id : "";
    await setWave(store, study.id, retest, { plan: { ...newWavePlan("Retest"), places } });
    const own = (await linksOf(store, study.id)).find(({ waveId }) => waveId === retest)!;
    expect(own.token).not.toBe(link.token);
    const groups = [];
    for (let times = 0; times < 6; times++) groups.push(await start(own.token));
    const late = groups.filter((group) => group === "late").length;
    expect([6 - late, late + 2]).toEqual(counts);
  });

  it("is a column of the data, and what results and files are asked of", async () => {
    const whole = await waved();
    const { store, study, wave } = whole;
    await (await begun(whole)).finish();
    const made = await addWave(store, study.id, wave.releaseId, "Retest");
    const retest = "id" in made ? made.id : "";
    const own = (await linksOf(store, study.id)).find(({ waveId }) => waveId === retest)!;
    for (let times = 0; times < 2; times++) await (await begun(whole, own.token)).finish();
    const reader = await DataReader.open(store, study, { pilots: false });
    expect(reader.sittings.map(({ facts }) => facts.wave)).toEqual(["First wave", "Retest", "Retest"]);
    const one = await DataReader.open(store, study, { pilots: false, wave: retest });
    expect(one.sittings).toHaveLength(2);
    const asked = async (query: string) => (await answered(store, study, new URLSearchParams(query))).finished;
    expect(await Promise.all(["", `wave=${retest}`, `wave=${wave.id}`, "wave=nowhere"].map(asked))).toEqual([
      3, 2, 1, 3,
    ]);
    expect(await countSessions(store, study.id, retest)).toMatchObject({ all: 2, started: 2, finished: 2 });
  });
});
