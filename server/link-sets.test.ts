import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { openTerms } from "../core/collect/terms";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { findParticipant } from "./forgetting";
import { addLinkSet, linkSetsOf, linksOfSet, renewLink, setLinkSet } from "./link-sets";
import { linksOf } from "./links";
import { entryOf } from "./entering";
import { appendRecords } from "./records";
import { resumeSession } from "./session-of-secret";
import { startSession } from "./sessions";

async function forThree() {
  const whole = await released();
  const names = ["gull", "tern", "knot"];
  const links = names.map((label) => ({ label, note: `${label}s` }));
  const made = await addLinkSet(whole.store, whole.study.id, whole.link.waveId, "Course B", links);
  const set = "id" in made ? made.id : "";
  const list = async () => (await linksOfSet(whole.store, whole.study.id, set)) ?? [];
  const tokens = (await list()).map(({ token }) => token) as [string, string, string];
  const start = (token: string, secret = newSecret()) => startSession(whole.store, token, secret, "b");
  return { ...whole, set, list, tokens, start };
}
type Whole = Awaited<ReturnType<typeof forThree>>;

async function begun({ start }: Whole, token: string) {
  const secret = newSecret();
  const started = await start(token, secret);
  if (!started.ok) throw new Error(started.reason);
  const { participant, group, orders, seed } = started.session;
  const { records } = simulateSession(plainStudy(), participant, { group, orders }, seed, plainModel);
  return { secret, records, session: started.session.session };
}

describe("a link for one person", () => {
  it("stands with the others as they were listed, apart from those for anyone", async () => {
    const { store, study, list, set } = await forThree();
    expect((await list()).map(({ label, note, state }) => [label, note, state])).toEqual([
      ["gull", "gulls", "unused"],
      ["tern", "terns", "unused"],
      ["knot", "knots", "unused"],
    ]);
    expect((await linksOf(store, study.id)).map(({ label }) => label)).toEqual(["Open link"]);
    expect(await linksOfSet(store, "another study", set)).toBeNull();
    expect(await addLinkSet(store, study.id, "elsewhere", "No", [{ label: "a", note: "" }])).toEqual({
      reason: "This wave is gone. Load the page again.",
    });
    const many = Array.from({ length: 1000 }, (_, index) => ({ label: `n${index}`, note: "" }));
    const { waveId } = (await linksOf(store, study.id))[0]!;
    for (let times = 0; times < 19; times++) await addLinkSet(store, study.id, waveId, `More ${times}`, many);
    expect(await addLinkSet(store, study.id, waveId, "One more", many)).toEqual({
      reason: "A study has at most 20,000 links.",
    });
    expect(await linkSetsOf(store, study.id)).toHaveLength(20);
  });

  it("is used once: while its session goes on it is gone on with wherever it is opened, and then it is over", async () => {
    const whole = await forThree();
    const { store, study, tokens, list, start } = whole;
    const { secret, records, session } = await begun(whole, tokens[0]);
    await appendRecords(store, secret, records.slice(0, 2));
    const second = newSecret();
    expect(await start(tokens[0], second)).toMatchObject({
      ok: true,
      session: { session, records: [{ number: 1 }, { number: 2 }] },
    });
    // What it was played with before only sends what it still has.
    expect(await resumeSession(store, secret)).toBeNull();
    expect(await appendRecords(store, second, records.slice(2))).toMatchObject({ ok: true, finished: true });
    expect(await start(tokens[0])).toMatchObject({
      ok: false,
      reason: "You have taken part in this study already. Thank you.",
    });
    expect((await entryOf(store, tokens[0]))?.closed).toBe("You have taken part in this study already. Thank you.");
    await begun(whole, tokens[1]);
    expect((await list()).map(({ state }) => state)).toEqual(["finished", "begun", "unused"]);
    // Whoever asks for their data is found by the name of their link.
    expect(await findParticipant(store, study.id, " tern")).toMatchObject({ participant: 2 });
    expect(await findParticipant(store, study.id, "knot")).toBeNull();
    expect(await linkSetsOf(store, study.id)).toMatchObject([{ label: "Course B", links: 3, begun: 2, finished: 1 }]);
  });

  it("begins one session, however many come by it at the same moment", async () => {
    const whole = await forThree();
    const answers = await Promise.all(Array.from({ length: 12 }, () => whole.start(whole.tokens[2])));
    const ids = answers.flatMap((answer) => (answer.ok ? [answer.session.session] : []));
    expect(new Set(ids).size).toBe(1);
    // The last one has it; the others were told so, or will be.
    for (const answer of answers) if (!answer.ok) expect(answer.reason).toMatch(/continuing on another computer/);
    expect(await whole.store.db.selectFrom("session").select("id").execute()).toHaveLength(1);
  });

  it("asks what its set asks, which is closed as a whole; who is inside goes on", async () => {
    const whole = await forThree();
    const { store, study, set, tokens, start } = whole;
    const inside = await begun(whole, tokens[0]);
    await setLinkSet(store, study.id, set, { terms: { ...openTerms, mostFinished: 1 }, label: "Course C" });
    await appendRecords(store, inside.secret, inside.records);
    expect(await start(tokens[1])).toMatchObject({
      ok: false,
      reason: expect.stringContaining("all the participants") as string,
    });
    await setLinkSet(store, study.id, set, { terms: openTerms });
    const going = await begun(whole, tokens[1]);
    await setLinkSet(store, study.id, set, { open: false });
    expect(await start(tokens[2])).toMatchObject({ ok: false });
    expect(await start(tokens[1])).toMatchObject({ ok: true, session: { session: going.session } });
    await setLinkSet(store, "another study", set, { open: true });
    expect(await linkSetsOf(store, study.id)).toMatchObject([{ label: "Course C", open: false }]);
  });

  it("can be given another address; the old one leads nowhere, and what was recorded stays", async () => {
    const whole = await forThree();
    const { store, study, tokens, list, start } = whole;
    const { secret, records, session } = await begun(whole, tokens[0]);
    await appendRecords(store, secret, records.slice(0, 1));
    const fresh = (await renewLink(store, study.id, tokens[0])) ?? "";
    expect(await entryOf(store, tokens[0])).toBeNull();
    expect(await start(tokens[0])).toMatchObject({ ok: false });
    expect(await start(fresh)).toMatchObject({ ok: true, session: { session, records: [{ number: 1 }] } });
    expect((await list()).map(({ token, label, state }) => [token === fresh, label, state])).toEqual([
      [true, "gull", "begun"],
      [false, "tern", "unused"],
      [false, "knot", "unused"],
    ]);
    expect(await renewLink(store, "another study", tokens[1])).toBeNull();
    expect(await renewLink(store, study.id, whole.link.token)).toBeNull();
  });
});
