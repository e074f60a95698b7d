import { describe, expect, it } from "vitest";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { openTerms, type Terms } from "../core/collect/terms";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { newSecret } from "./chance";
import { addLink, countByLink, linksOf, setLink } from "./links";
import { closedInWords, entryOf, lateInWords, linkBy } from "./entering";
import { appendRecords } from "./records";
import { setExcluded, startSession } from "./sessions";

const day = 86_400_000;
const moment = (inMs: number) => ({ at: new Date(Date.now() + inMs).toISOString(), zone: "Europe/Berlin" });
async function linked(terms: Partial<Terms> = {}) {
  const whole = await released();
  await setLink(whole.store, whole.study.id, whole.link.token, { terms: { ...openTerms, ...terms } });
  const begin = (word?: string) =>
    startSession(whole.store, whole.link.token, newSecret(), "b", {}, word === undefined ? {} : { word });
  return { ...whole, begin };
}
/** Begins a session and plays it to its end. */
async function finish({ store, link }: Awaited<ReturnType<typeof linked>>) {
  const secret = newSecret();
  const started = await startSession(store, link.token, secret, "b");
  if (!started.ok) throw new Error(started.reason);
  const { participant, group, orders, seed, session } = started.session;
  const { records } = simulateSession(plainStudy(), participant, { group, orders }, seed, plainModel);
  expect(await appendRecords(store, secret, records)).toMatchObject({ ok: true, finished: true });
  return session;
}

describe("by a link", () => {
  it.each<[string, Partial<Terms>, string]>([
    ["before it opens", { from: moment(day) }, "This study is not open yet. It opens on "],
    ["after its time", { until: moment(-day) }, "This study is over. Thank you for your interest."],
    [
      "before it opens, in the study's own words",
      { from: moment(day), says: { early: "Come on Monday." } },
      "Come on Monday.",
    ],
  ])("nobody begins %s, and the page says so", async (_, terms, says) => {
    const { store, link, begin } = await linked(terms);
    const refused = await begin();
    expect(refused).toMatchObject({ ok: false, reason: expect.stringContaining(says) as string });
    expect((await entryOf(store, link.token))?.closed).toContain(says);
    expect(await store.db.selectFrom("session").select("id").execute()).toEqual([]);
  });

  it("begin those who know the word, however they write it, and no others", async () => {
    const { store, link, begin } = await linked({ who: { kind: "word", word: "Knot" } });
    expect((await entryOf(store, link.token))?.asksWord).toBe(true);
    expect(await begin()).toMatchObject({
      ok: false,
      word: "wrong",
      reason: "This is not the word. Check it, or ask the person who gave you the link.",
    });
    expect(await begin("gull")).toMatchObject({ ok: false, word: "wrong" });
    expect(await begin(" KNOT")).toMatchObject({ ok: true });
  });

  it("nobody begins any more once so many have finished; who is inside may finish, and who was left out is not counted", async () => {
    const whole = await linked({ mostFinished: 2 });
    const first = await finish(whole);
    const inside = await Promise.all(Array.from({ length: 5 }, () => whole.begin()));
    expect(inside.every(({ ok }) => ok)).toBe(true);
    await finish(whole);
    expect(await whole.begin()).toMatchObject({
      ok: false,
      reason: expect.stringContaining("all the participants") as string,
    });
    await setExcluded(whole.store, whole.study.id, first, true);
    expect(await whole.begin()).toMatchObject({ ok: true });
    expect(await countByLink(whole.store, whole.study.id)).toEqual({ [whole.link.token]: { started: 8, finished: 2 } });
  });

  it("that is closed nobody begins, in the words it was given", async () => {
    const { store, study, link, begin } = await linked({ says: { closed: "We pause until the tide turns." } });
    await setLink(store, study.id, link.token, { open: false });
    expect(await begin()).toMatchObject({ ok: false, reason: "We pause until the tide turns." });
  });

  it("a session may be gone on with as long as the link says", async () => {
    const { store, study, link } = await linked({ goOn: { kind: "hours", hours: 24 } });
    const { document } = study;
    const late = (ago: number, of: string | null = link.token) =>
      lateInWords(store.db, document, { link: of, startedAt: new Date(Date.now() - ago).toISOString(), endsBy: null });
    expect(await late(day - 60_000)).toBeNull();
    expect(await late(day + 60_000)).toMatch(/could be continued is over/);
    // In the laboratory there is no link.
    expect(await late(30 * day, null)).toBeNull();
  });
});

it("the moment it opens is told in the study's language, and in English where that is none", () => {
  const opens = { at: "2026-12-01T08:00:00.000Z", zone: "Europe/Berlin" };
  const told = (language: string) => closedInWords({ ...plainStudy(), language }, { why: "early", says: "", opens });
  expect(told("en")).toBe("This study is not open yet. It opens on December 1, 2026 at 9:00 AM.");
  expect(told("de")).toBe("Diese Studie ist noch nicht offen. Sie beginnt am 1. Dezember 2026 um 09:00.");
  expect(told("en-x")).toMatch(/^This study is not open yet\. It opens on December 1/);
});

describe("links", () => {
  it("there can be several to a wave, each with what it asks; none to what is not the study's", async () => {
    const { store, study, link } = await linked({ mostFinished: 2 });
    const made = await addLink(store, study.id, link.waveId, "Poster in the hall");
    const other = "link" in made ? made.link : null;
    expect(other).toMatchObject({ label: "Poster in the hall", open: true, terms: openTerms });
    expect(await addLink(store, study.id, "elsewhere", "No")).toEqual({
      reason: "This wave is gone. Load the page again.",
    });
    await setLink(store, "another study", link.token, { open: false });
    expect((await linksOf(store, study.id)).map(({ label, open }) => [label, open])).toEqual([
      ["Open link", true],
      ["Poster in the hall", true],
    ]);
    expect((await linkBy(store.db, other?.token ?? ""))?.notNow).toBeNull();
    expect(await linkBy(store.db, "nowhere")).toBeNull();
  });
});
