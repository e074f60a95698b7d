import { afterEach, describe, expect, it, vi } from "vitest";
import { released } from "~/tests/support/store";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import type { StudyDocument } from "../core/design/document";
import { openTerms } from "../core/collect/terms";
import { partNodes } from "../core/design/lookup";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { addLinkSet, linkSetsOf, linksOfSet } from "./link-sets";
import { setLink } from "./links";
import { entryOf } from "./entering";
import { appendRecords } from "./records";
import { setExcluded, startInLab, startSession } from "./sessions";
import { sittingsIn } from "./sittings";
import { setWave, wavesOf } from "./waves";

/** A study of two sittings, the second a week later: the block belongs to the second only. */
function weekly(): StudyDocument {
  const document = plainStudy();
  document.sittings = [
    { id: "first", name: "First", reminder: "" },
    { id: "second", name: "A week later", due: { from: 6, until: 8, late: "may-not" }, reminder: "Come to {{link}}." },
  ];
  const block = firstBlock(document);
  for (const node of partNodes(document.runningOrder)) if (node.part === block.id) node.onlySittings = ["second"];
  return document;
}
const day = 86_400_000;
const later = (days: number) => vi.setSystemTime(Date.now() + days * day);
afterEach(() => void vi.useRealTimers());

async function begun() {
  vi.useFakeTimers({ toFake: ["Date"] });
  vi.setSystemTime(Date.parse("2026-11-27T10:00:00Z"));
  const whole = await released(weekly());
  const start = (parameters: Record<string, string> = {}, token = whole.link.token, secret = newSecret()) =>
    startSession(whole.store, token, secret, "b", parameters);
  /** Begins a sitting and plays it to its end. */
  const play = async (parameters: Record<string, string> = {}, token = whole.link.token) => {
    const secret = newSecret();
    const started = await start(parameters, token, secret);
    if (!started.ok) throw new Error(started.reason);
    const { participant, group, orders, seed } = started.session;
    const { records } = simulateSession(weekly(), participant, { group, orders }, seed, plainModel);
    expect(await appendRecords(whole.store, secret, records)).toMatchObject({ ok: true, finished: true });
    return { secret, session: started.session, trials: records.filter(({ kind }) => kind === "trial").length };
  };
  return { ...whole, start, play };
}
const tern = { participant: "tern" };

describe("sittings", () => {
  it("have parts of their own, and the second has the number of the first", async () => {
    const { store, play } = await begun();
    const first = await play(tern);
    expect(first.trials).toBe(0);
    later(7);
    const second = await play(tern);
    expect(second.trials).toBeGreaterThan(0);
    expect(second.session.participant).toBe(first.session.participant);
    const rows = await store.db
      .selectFrom("session")
      .select(["sitting", "trials_planned"])
      .orderBy("sitting")
      .execute();
    expect(rows).toEqual([
      { sitting: 1, trials_planned: 0 },
      { sitting: 2, trials_planned: second.trials },
    ]);
  });

  it("begin on their days only, each once, and say so", async () => {
    const { start, play } = await begun();
    await play(tern);
    later(5);
    expect(await start(tern)).toMatchObject({
      ok: false,
      reason: "Your next sitting can begin from December 3, 2026 on. Please come back then.",
    });
    later(4);
    expect(await start(tern)).toMatchObject({ reason: expect.stringMatching(/^The days .* are over/) as string });
    later(-1);
    await play(tern);
    expect(await start(tern)).toMatchObject({ reason: expect.stringMatching(/taken part/) as string });
    // Somebody else is not concerned.
    expect(await start({ participant: "gull" })).toMatchObject({ ok: true });
  });

  it("wait for the one before; one that does not count is begun anew", async () => {
    const { store, study, start, play } = await begun();
    await play(tern);
    later(6);
    const left = await start(tern);
    expect(await start(tern)).toMatchObject({ ok: false, reason: expect.stringMatching(/is not finished/) as string });
    if (!left.ok) throw new Error(left.reason);
    await setExcluded(store, study.id, left.session.session, true);
    const again = await play(tern);
    expect(again.session).toMatchObject({ participant: left.session.participant, seed: left.session.seed });
    const rows = await store.db
      .selectFrom("session")
      .select(["sitting", "repeat"])
      .orderBy("sitting")
      .orderBy("repeat")
      .execute();
    expect(rows).toEqual([
      { sitting: 1, repeat: 0 },
      { sitting: 2, repeat: 0 },
      { sitting: 2, repeat: 1 },
    ]);
  });

  it("are all begun by a link of one's own, which says when the next is due", async () => {
    const { store, study, link, play, start } = await begun();
    const made = await addLinkSet(store, study.id, link.waveId, "Course B", [{ label: "tern", note: "" }]);
    const set = "id" in made ? made.id : "";
    const [own] = (await linksOfSet(store, study.id, set)) ?? [];
    const first = await play({}, own!.token);
    expect((await entryOf(store, own!.token))?.closed).toMatch(/can begin from December 3, 2026 on/);
    later(6);
    expect((await entryOf(store, own!.token))?.closed).toBeNull();
    const second = await play({}, own!.token);
    expect(second.session.participant).toBe(first.session.participant);
    expect(await start({}, own!.token)).toMatchObject({ reason: expect.stringMatching(/taken part/) as string });
    expect(await linksOfSet(store, study.id, set)).toMatchObject([{ label: "tern", sitting: 2, state: "finished" }]);
    expect(await linkSetsOf(store, study.id)).toMatchObject([{ links: 1, begun: 1, finished: 1 }]);
  });

  it("after the first are open to who has begun, though the wave and the link have all they need", async () => {
    const { store, study, link, play, start } = await begun();
    const wave = (await wavesOf(store.db, study.id))[0]!;
    await setWave(store, study.id, wave.id, { plan: { ...wave.plan, target: 1 } });
    await setLink(store, study.id, link.token, { terms: { ...openTerms, mostFinished: 1 } });
    await play(tern);
    later(6);
    expect(await start({ participant: "gull" })).toMatchObject({
      reason: expect.stringMatching(/all the participants/) as string,
    });
    expect((await entryOf(store, link.token))?.closed).toMatch(/all the participants/);
    expect((await entryOf(store, link.token, { participant: "tern" }))?.closed).toBeNull();
    await play(tern);
    expect((await entryOf(store, link.token, { participant: "tern" }))?.closed).toMatch(/taken part/);
  });

  it("are listed with who is due, overdue or done; in the laboratory the experimenter decides about days", async () => {
    const { store, study, link, play, start } = await begun();
    await play(tern);
    await start({ participant: "gull" });
    const list = async () =>
      (await sittingsIn(store, study.id, link.waveId, study.document)).listed.map(({ who, done, state, due }) => [
        who,
        done,
        state,
        due?.from,
      ]);
    expect(await list()).toEqual([
      ["tern", 1, "waiting", "2026-12-03"],
      ["gull", 0, "under-way", undefined],
    ]);
    const inLab = (participant: number) =>
      startInLab(store, study.id, link.waveId, { participant, group: null, parameters: {} }, "b");
    expect(await inLab(2)).toEqual({
      ok: false,
      reason: "The last sitting of participant 2 is not finished. Mark it “do not count” to begin it anew.",
    });
    expect(await inLab(1)).toMatchObject({ ok: true });
    later(30);
    expect((await list())[0]).toEqual(["tern", 1, "under-way", undefined]);
  });
});
