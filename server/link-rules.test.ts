import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import { adult, begun, whole } from "~/tests/support/opening";
import { released } from "~/tests/support/store";
import { plainStudy } from "~/tests/support/studies";
import { openTerms, type Terms } from "../core/collect/terms";
import type { StudyDocument } from "../core/design/document";
import { plainModel, simulateSession } from "../core/simulate/participant";
import { createAccount, signIn } from "./accounts";
import { cellCounts } from "./cell-counts";
import { newSecret } from "./chance";
import { addLinkSet, linksOfSet, setLinkSet } from "./link-sets";
import { countByLink, setLink } from "./links";
import { entryOf, lateInWords } from "./entering";
import { placeSession } from "./places";
import { appendRecords } from "./records";
import { countSessions } from "./session-list";
import { setExcluded, startSession } from "./sessions";
import { countUnsuited, unsuitedOf } from "./unsuited";

async function linked(terms: Partial<Terms>, document: StudyDocument = plainStudy()) {
  const there = await released(document);
  await setLink(there.store, there.study.id, there.link.token, { terms: { ...openTerms, ...terms } });
  const { store, link } = there;
  const begin = (parameters: Record<string, string> = {}, token = link.token) => {
    const secret = newSecret();
    return startSession(store, token, secret, "b", parameters).then((started) => ({ ...started, secret }));
  };
  /** Begins, and plays to the end. */
  const finish = async (parameters: Record<string, string> = {}, token = link.token) => {
    const started = await begin(parameters, token);
    if (!started.ok) throw new Error(started.reason);
    const { session } = started;
    const { records } = simulateSession(document, session.participant, session, session.seed, plainModel);
    expect(await appendRecords(store, started.secret, records)).toMatchObject({ finished: true });
    return session;
  };
  return { ...there, begin, finish };
}
const takenPart = { ok: false, reason: "You have taken part in this study already. Thank you." };
const twoGroups = (): StudyDocument => ({ ...plainStudy(), groups: ["early", "late"].map((id) => ({ id, name: id })) });

describe("how often", () => {
  it("by a code: so often and no more, whoever has none is asked for one, and who was left out may come again", async () => {
    const { store, study, link, begin, finish } = await linked({ perCode: 2 });
    expect((await entryOf(store, link.token))?.entry.ownCode).toBe("must");
    expect(await begin()).toMatchObject({
      ok: false,
      reason: "Type the code you were given, or one you will remember.",
    });
    const first = await finish({ participant: "knot" });
    const second = await finish({ participant: "knot" });
    expect([first.participant, second.participant]).toEqual([1, 1]);
    expect(await begin({ participant: "knot" })).toMatchObject(takenPart);
    expect((await entryOf(store, link.token, { participant: "knot" }))?.closed).toBe(takenPart.reason);
    expect((await entryOf(store, link.token, { participant: "tern" }))?.closed).toBeNull();
    expect(await begin({ participant: "tern" })).toMatchObject({ ok: true });
    await setExcluded(store, study.id, second.session, true);
    expect(await begin({ participant: "knot" })).toMatchObject({ ok: true });
  });

  it.each<[number | undefined, number]>([
    [undefined, 1],
    [3, 3],
    [1000, 5],
  ])("by a link of one's own: %s lets in %s times", async (perLink, times) => {
    const { store, study, begin, finish } = await linked({});
    const wave = (await store.db.selectFrom("wave").select("id").executeTakeFirstOrThrow()).id;
    const set = await addLinkSet(store, study.id, wave, "Class", [{ label: "ann", note: "" }]);
    if (!("id" in set)) throw new Error(set.reason);
    if (perLink) await setLinkSet(store, study.id, set.id, { terms: { ...openTerms, perLink } });
    const [ann] = (await linksOfSet(store, study.id, set.id)) ?? [];
    const token = ann?.token ?? "";
    const numbers = [];
    for (let time = 0; time < times; time++) numbers.push((await finish({}, token)).participant);
    // It is the same person each time.
    expect(numbers).toEqual(Array.from({ length: times }, () => 1));
    const more = await begin({}, token);
    if (perLink === 1000) expect(more.ok).toBe(true);
    else expect(more).toMatchObject(takenPart);
  });
});

it("is for the team only: who works on the study and is signed in, as a pilot that takes no place and is not counted", async () => {
  const { store, study, link, finish } = await linked({ who: { kind: "team" }, mostFinished: 1 }, twoGroups());
  const other = await createAccount(store, "other@lapwing.example", "other", "a long password");
  if (!other.ok) throw new Error(other.reason);
  const secretOf = async (email: string) => {
    const signed = await signIn(store, email, "a long password", { from: "" });
    return signed.ok ? signed.secret : null;
  };
  const closedFor = async (secret: string | null) => (await entryOf(store, link.token, {}, secret))?.closed;
  const says = "This link is for the team of the study only.";
  expect(await closedFor(null)).toBe(says);
  expect(await closedFor(await secretOf("other@lapwing.example"))).toBe(says);
  const mine = await secretOf("owner@lapwing.example");
  expect(await closedFor(mine)).toBeNull();
  expect(await startSession(store, link.token, newSecret(), "b")).toMatchObject({ ok: false, reason: says });
  const tried = [];
  for (let time = 0; time < 3; time++) {
    const secret = newSecret();
    const started = await startSession(store, link.token, secret, "b", { participant: "me" }, { signIn: mine });
    if (!started.ok) throw new Error(started.reason);
    const { session } = started;
    const { records } = simulateSession(twoGroups(), session.participant, session, session.seed, plainModel);
    expect(await appendRecords(store, secret, records)).toMatchObject({ finished: true });
    tried.push([session.pilot, session.participant]);
  }
  expect(tried).toEqual(Array.from({ length: 3 }, () => [true, 1]));
  expect([...(await cellCounts(store.db, study.id, study.document, null))]).toEqual([]);
  expect(await countByLink(store, study.id)).toEqual({});
  expect(await countSessions(store, study.id)).toMatchObject({ all: 3, started: 0, finished: 0 });
  // A participant afterwards is the first.
  await setLink(store, study.id, link.token, { terms: openTerms });
  expect(await finish({ participant: "me" })).toMatchObject({ pilot: false, participant: 1 });
});

describe("how many", () => {
  it("in each group: who would come into one that is full comes into another, until all are", async () => {
    const { store, study, begin, finish } = await linked({ mostEach: { of: "group", count: 2 } }, twoGroups());
    const groups = [];
    for (let person = 0; person < 4; person++) groups.push((await finish()).group);
    expect(groups.toSorted()).toEqual(["early", "early", "late", "late"]);
    expect(await begin()).toMatchObject({ ok: false, reason: expect.stringMatching(/all the participants/) as string });
    // One of a group that was left out makes room there.
    const late = await store.db
      .selectFrom("session")
      .select("id")
      .where("group_id", "=", "late")
      .executeTakeFirstOrThrow();
    await setExcluded(store, study.id, late.id, true);
    for (let person = 0; person < 3; person++) expect(await begin()).toMatchObject({ session: { group: "late" } });
  });

  it("in each stratum, told by answers: who is one too many of theirs gets no place, and reads so", async () => {
    const ends = { full: { address: "https://panel.example/full?who={{participant.code}}" } };
    const { store, link } = await linked({ mostEach: { of: "stratum", count: 1 }, ends }, studyWithOpening());
    await whole(store, link.token, adult);
    const { secret } = await begun(store, link.token, adult, { participant: "knot" });
    expect(await placeSession(store, secret)).toMatchObject({
      ok: false,
      reason: expect.stringMatching(/all the participants/) as string,
      end: { address: "https://panel.example/full?who=knot" },
    });
    // Those of the other stratum are wanted still.
    expect((await whole(store, link.token, { ...adult, age: 61 })).place).toMatchObject({ participant: 2 });
  });
});

it("a session that takes too long counts as broken off, gives its place back, and cannot be gone on with", async () => {
  const { store, study, link, begin } = await linked({ longest: 60 }, twoGroups());
  const started = await begin();
  if (!started.ok) throw new Error(started.reason);
  const counts = async () => [...(await cellCounts(store.db, study.id, study.document, null)).values()];
  expect(await counts()).toEqual([1]);
  expect(await countSessions(store, study.id)).toMatchObject({ started: 1, brokenOff: 0 });
  const { session } = started;
  const late = (endsBy: string | null) =>
    lateInWords(store.db, study.document, { link: link.token, startedAt: session.startedAt, endsBy });
  const row = await store.db.selectFrom("session").select("ends_by").executeTakeFirstOrThrow();
  expect(Date.parse(row.ends_by ?? "") - Date.parse(session.startedAt)).toBe(60 * 60_000);
  expect(await late(row.ends_by)).toBeNull();
  const long = new Date(Date.now() - 1000).toISOString();
  expect(await late(long)).toMatch(/could be continued is over/);
  await store.db.updateTable("session").set({ ends_by: long }).execute();
  expect(await counts()).toEqual([]);
  expect(await countSessions(store, study.id)).toMatchObject({ started: 1, brokenOff: 1 });
  // What is recorded of it all the same is taken in.
  const { records } = simulateSession(twoGroups(), session.participant, session, session.seed, plainModel);
  expect(await appendRecords(store, started.secret, records)).toMatchObject({ finished: true });
});

it("who cannot take part on what they came with is counted by the link, and nothing else is kept of them", async () => {
  const { store, study, link } = await linked({ on: { devices: ["computer"], input: "keyboard" } });
  expect(await entryOf(store, link.token)).toMatchObject({ on: { devices: ["computer"], input: "keyboard" } });
  await Promise.all([1, 2, 3].map(() => countUnsuited(store, link.token, "device")));
  await countUnsuited(store, link.token, "browser");
  await countUnsuited(store, "nowhere", "browser");
  expect(await unsuitedOf(store, study.id)).toEqual({ [link.token]: { device: 3, browser: 1 } });
  expect(await store.db.selectFrom("session").selectAll().execute()).toEqual([]);
});
