import { describe, expect, it } from "vitest";
import { studyWithOpening } from "~/tests/support/forms";
import { adult, begun, whole, type Person } from "~/tests/support/opening";
import { released } from "~/tests/support/store";
import type { Ends } from "../core/collect/ends";
import { openTerms, type Terms } from "../core/collect/terms";
import { newSecret } from "./chance";
import { addCodes, countCodes, removeCodes } from "./ends";
import { deleteSession } from "./forgetting";
import { addLinkSet, linksOfSet, renewLink, setLinkSet } from "./link-sets";
import { setLink } from "./links";
import { entryOf } from "./entering";
import { appendRecords } from "./records";
import { resumeSession } from "./session-of-secret";
import { startSession } from "./sessions";

const declines: Person = { takesPart: "no", age: 40 };
const tooYoung: Person = { takesPart: "yes", age: 15 };
const back = (as: string) => `https://panel.example/back?visit={{link.visit}}&as=${as}&code={{session.code}}`;
const panelEnds: Ends = {
  finished: { address: back("finished"), code: { kind: "same", code: "DONE" } },
  "screened-out": { says: "Not this time.", address: back("out") },
  declined: { address: back("no") },
  full: { address: back("full"), code: { kind: "same", code: "FULL" } },
};
const linked = async (ends: Ends, more: Partial<Terms> = {}) => {
  const there = await released(studyWithOpening());
  const terms = { ...openTerms, ...more, ends };
  await setLink(there.store, there.study.id, there.link.token, { terms });
  return { ...there, terms };
};

describe("the end of a session", () => {
  it("shows what the link says of it, with what the address brought", async () => {
    const { store, link } = await linked(panelEnds);
    const came = { participant: "knot-7", visit: "a b", other: "x" };
    const finished = await whole(store, link.token, adult, came);
    const shown = { says: null, code: "DONE", address: "https://panel.example/back?visit=a%20b&as=finished&code=DONE" };
    expect(finished.sent).toMatchObject({ end: shown });
    const kept = await store.db.selectFrom("session_codes").select("came_with").execute();
    // No more of the address is kept than its ends ask for.
    expect(kept).toEqual([{ came_with: '{"visit":"a b"}' }]);
    // It is shown again after a reload, and to a player that did not hear the first answer.
    expect((await resumeSession(store, finished.secret))?.end).toEqual(shown);
    expect(await appendRecords(store, finished.secret, finished.all)).toMatchObject({ finished: true, end: shown });
    const screened = await whole(store, link.token, tooYoung, { visit: "v2" });
    expect(screened.sent).toMatchObject({
      end: {
        says: "Not this time.",
        code: null,
        address: expect.stringMatching(/visit=v2&as=out&code=[\w-]+$/) as string,
      },
    });
  });

  it("leads back who declines, of whom nothing is kept, also where the first answer was lost", async () => {
    const { store, link } = await linked(panelEnds);
    const { secret, sent, all } = await whole(store, link.token, declines, { visit: "v3" });
    const address = expect.stringContaining("visit=v3&as=no") as string;
    expect(sent).toMatchObject({ end: { says: null, code: null, address } });
    expect(await store.db.selectFrom("session_codes").selectAll().execute()).toEqual([]);
    expect(await appendRecords(store, secret, all)).toMatchObject({ finished: true, end: { address } });
  });

  it("is as the study says where the link says nothing of it, and for who leaves", async () => {
    const { store, link } = await linked({ "screened-out": { says: "Not this time." } });
    const finished = await whole(store, link.token, adult);
    expect(finished.sent).toMatchObject({ code: expect.stringMatching(/^[\w-]+$/) as string });
    expect(finished.sent).not.toHaveProperty("end");
    const { secret, before } = await begun(store, link.token, adult);
    const leaving = [{ kind: "end", number: before.length + 1, at: 90_000, withdrawn: true }];
    const left = await appendRecords(store, secret, leaving);
    expect(left).toMatchObject({ finished: true, code: null });
    expect(left).not.toHaveProperty("end");
  });
});

describe("codes of a list", () => {
  const listed: Ends = { finished: { code: { kind: "listed" } } };

  it("are given one each, in their order, also when many finish at once; then sessions have their own", async () => {
    const { store, study, link } = await linked(listed);
    const codes = Array.from({ length: 12 }, (_, index) => `tide-${index + 1}`);
    expect(await addCodes(store, study.id, link.token, "finished", codes)).toBeNull();
    const first = await whole(store, link.token, adult);
    expect(first.sent).toMatchObject({ code: "tide-1", end: { code: "tide-1" } });
    // The same session gets no second one.
    expect(await appendRecords(store, first.secret, first.all)).toMatchObject({ end: { code: "tide-1" } });
    const others = await Promise.all(Array.from({ length: 13 }, () => whole(store, link.token, adult)));
    const shown = others.map(({ sent }) => (sent.ok ? (sent.end?.code ?? "") : ""));
    expect(new Set(shown).size).toBe(13);
    expect(shown.filter((code) => code.startsWith("tide-")).toSorted()).toEqual(codes.slice(1).toSorted());
    expect(shown.filter((code) => /^[A-Z\d]{4}-/.test(code))).toHaveLength(2);
    const stored = await store.db.selectFrom("session_codes").select("completion_code").execute();
    expect(stored.map(({ completion_code }) => completion_code).toSorted()).toEqual(["tide-1", ...shown].toSorted());
    expect(await countCodes(store, study.id)).toEqual({ [link.token]: { finished: { all: 12, given: 12 } } });
  });

  it("stay given where a session is deleted; the rest can be taken away, and others added", async () => {
    const { store, study, link } = await linked(listed);
    await addCodes(store, study.id, link.token, "finished", ["a", "b", "c"]);
    await addCodes(store, study.id, link.token, "finished", ["c", "d"]);
    const { secret } = await whole(store, link.token, adult);
    const session = await resumeSession(store, secret);
    await deleteSession(store, study, session?.session ?? "", { by: "the team" });
    expect(await countCodes(store, study.id)).toEqual({ [link.token]: { finished: { all: 4, given: 1 } } });
    await removeCodes(store, study.id, link.token, "finished");
    await addCodes(store, study.id, link.token, "finished", ["a", "e"]);
    expect((await whole(store, link.token, adult)).sent).toMatchObject({ code: "e" });
  });

  it("of a set of personal links are shared by it, also after a link was made anew", async () => {
    const { store, study } = await linked({});
    const wave = (await store.db.selectFrom("wave").select("id").executeTakeFirstOrThrow()).id;
    const people = ["ann", "bo"].map((label) => ({ label, note: "" }));
    const set = await addLinkSet(store, study.id, wave, "Class", people);
    if (!("id" in set)) throw new Error(set.reason);
    await setLinkSet(store, study.id, set.id, { terms: { ...openTerms, ends: listed } });
    await addCodes(store, study.id, set.id, "finished", ["one", "two"]);
    const [ann, bo] = (await linksOfSet(store, study.id, set.id)) ?? [];
    expect((await whole(store, ann?.token ?? "", adult)).sent).toMatchObject({ code: "one" });
    const renewed = await renewLink(store, study.id, bo?.token ?? "");
    expect((await whole(store, renewed ?? "", adult)).sent).toMatchObject({ code: "two" });
  });

  it("belong to a study's own links only", async () => {
    const { store, study } = await linked(listed);
    const wrong = await addCodes(store, study.id, "another", "finished", ["a"]);
    expect(wrong).toBe("This link is gone. Load the page again.");
    expect(await countCodes(store, study.id)).toEqual({});
  });
});

it("leads away those who come when it is full, before they begin and where it fills meanwhile", async () => {
  const { store, link, study, terms } = await linked(panelEnds);
  await whole(store, link.token, adult);
  const came = { participant: "knot-8", visit: "v4" };
  expect((await entryOf(store, link.token, came))?.end).toBeNull();
  await setLink(store, study.id, link.token, { terms: { ...terms, mostFinished: 1 } });
  const end = { says: null, code: "FULL", address: "https://panel.example/back?visit=v4&as=full&code=FULL" };
  expect(await entryOf(store, link.token, came)).toMatchObject({ closed: expect.any(String) as string, end });
  expect(await startSession(store, link.token, newSecret(), "b", came)).toMatchObject({ ok: false, end });
  // Who comes while it is closed is led nowhere.
  await setLink(store, study.id, link.token, { open: false });
  expect(await entryOf(store, link.token, came)).toMatchObject({ end: null });
  expect(await store.db.selectFrom("session").select("state").execute()).toEqual([{ state: "finished" }]);
});
