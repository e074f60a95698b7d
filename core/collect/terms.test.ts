import { describe, expect, it } from "vitest";
import { isWord, mayGoOn, openTerms, terms, termsProblem, whyNotBegin, type Terms } from "./terms";

const at = (iso: string) => Date.parse(iso);
const moment = (iso: string, zone = "Europe/Berlin") => ({ at: new Date(iso).toISOString(), zone });
const with_ = (more: Partial<Terms>): Terms => ({ ...openTerms, ...more });
const standing = (more: Partial<Parameters<typeof whyNotBegin>[1]> = {}) => ({
  isOpen: true,
  finished: 0,
  now: at("2026-12-01T12:00:00Z"),
  ...more,
});

describe("beginning by a link", () => {
  it.each<[string, Terms, Partial<Parameters<typeof whyNotBegin>[1]>, ReturnType<typeof whyNotBegin>]>([
    ["anyone at any time", openTerms, {}, null],
    ["while it is closed", openTerms, { isOpen: false }, "closed"],
    ["a moment before it opens", with_({ from: moment("2026-12-01T12:00:00.001Z") }), {}, "early"],
    ["as it opens", with_({ from: moment("2026-12-01T12:00:00Z") }), {}, null],
    ["a moment before it is over", with_({ until: moment("2026-12-01T12:00:00.001Z") }), {}, null],
    ["as it is over", with_({ until: moment("2026-12-01T12:00:00Z") }), {}, "over"],
    ["the last one that is wanted", with_({ mostFinished: 3 }), { finished: 2 }, null],
    ["one too many", with_({ mostFinished: 3 }), { finished: 3 }, "full"],
    ["closed before anything else", with_({ mostFinished: 3 }), { finished: 3, isOpen: false }, "closed"],
  ])("%s", (_, asked, more, why) => {
    expect(whyNotBegin(asked, standing(more))).toBe(why);
  });
});

describe("going on", () => {
  const begun = at("2026-12-01T12:00:00Z");
  it.each<[Terms["goOn"], string, boolean]>([
    [{ kind: "whenever" }, "2027-12-01T12:00:00Z", true],
    [{ kind: "never" }, "2026-12-01T12:00:01Z", false],
    [{ kind: "hours", hours: 24 }, "2026-12-02T11:59:59Z", true],
    [{ kind: "hours", hours: 24 }, "2026-12-02T12:00:00Z", false],
    // Midnight in Berlin is an hour earlier than in Greenwich, and much earlier than in Honolulu.
    [{ kind: "same-day", zone: "Europe/Berlin" }, "2026-12-01T22:59:59Z", true],
    [{ kind: "same-day", zone: "Europe/Berlin" }, "2026-12-01T23:00:00Z", false],
    [{ kind: "same-day", zone: "Pacific/Honolulu" }, "2026-12-02T09:59:59Z", true],
    [{ kind: "same-day", zone: "Pacific/Honolulu" }, "2026-12-02T10:00:00Z", false],
  ])("%j at %s: %s", (goOn, now, may) => {
    expect(mayGoOn(with_({ goOn }), begun, at(now))).toBe(may);
  });
});

it("takes the word in capitals and with blanks around it, and no other", () => {
  const asked = with_({ who: { kind: "word", word: "Knot" } });
  expect(["knot", " KNOT ", "Knot"].map((typed) => isWord(asked, typed))).toEqual([true, true, true]);
  expect(["", "knots", "gull"].map((typed) => isWord(asked, typed))).toEqual([false, false, false]);
  expect(isWord(openTerms, "")).toBe(true);
});

it.each<[object, boolean]>([
  [{}, true],
  [{ until: moment("2026-12-18T22:59:00Z"), mostFinished: 120 }, true],
  [{ until: { at: "tomorrow", zone: "UTC" } }, false],
  [{ mostFinished: 0 }, false],
  [{ perBrowser: 1 }, true],
  [{ perBrowser: 0 }, false],
  [{ who: { kind: "word", word: "" } }, false],
  [{ says: { early: "x".repeat(1001) } }, false],
  [{ other: 1 }, false],
])("has a form: %j", (more, fits) => {
  expect(terms.fits({ ...openTerms, ...more })).toBe(fits);
});

it.each<[Partial<Terms>, string | null]>([
  [{}, null],
  [{ from: moment("2026-12-01T09:00:00Z"), until: moment("2026-12-18T09:00:00Z") }, null],
  [
    { from: moment("2026-12-18T09:00:00Z"), until: moment("2026-12-18T09:00:00Z") },
    "It would be over before it opens.",
  ],
  [{ until: moment("2026-12-01T09:00:00Z", "Atlantis/Harbour") }, "“Atlantis/Harbour” is no time zone."],
  [{ from: { at: "2026-13-01T09:00:00.000Z", zone: "UTC" } }, "This day does not exist."],
])("makes sense or not: %j", (more, problem) => {
  expect(termsProblem(with_(more))).toBe(problem);
});
