import { describe, expect, it } from "vitest";
import { everyKind } from "~/tests/support/forms";
import { mistakesIn } from "../shape/shape";
import { parseStudy } from "../design/parse";
import { questionsInOrder } from "../design/questions";
import { streamFor } from "../random/stream";
import { wordingNames } from "../wording/names";
import { problemWith, isRevised, stateOf, untouched } from "./entry";
import { numberIn } from "./number/number";
import { onStep } from "./line/line";
import { isDay } from "./date/date";
import { question } from "~/tests/support/forms";
import { questionKind, questionKinds } from "./registry";

describe.each(questionKinds)("a question of kind %s", (word) => {
  const kind = questionKind(word);
  const fresh = question(word, "asked");
  const guesses = Array.from({ length: 40 }, (_, number) => kind.guess(fresh, streamFor("guess", number)));

  it("is made in its own shape, and can be saved and read again", () => {
    expect(mistakesIn(kind.shape, fresh)).toEqual([]);
    expect(JSON.parse(JSON.stringify(fresh))).toEqual(fresh);
    expect(kind.flaws?.(fresh) ?? []).toEqual([]);
  });
  it("is answered by simulated participants as by real ones", () => {
    for (const value of guesses) {
      expect(kind.value.fits(value)).toBe(true);
      expect(kind.problem(fresh, value)).toBeNull();
    }
  });
  it("gives each part of an answer a value that its codebook line allows", () => {
    for (const value of guesses)
      for (const part of [...(kind.parts?.(fresh) ?? []), ...(kind.beside?.(fresh) ?? [])]) {
        const read = part.read(value);
        if (part.type === "yes/no") expect(typeof read).toBe("boolean");
        if (part.type === "number") expect(read === null || typeof read === "number").toBe(true);
      }
  });
  it("may be skipped after one reminder, and not where it must be answered", () => {
    const open = { ...fresh, need: "reminder" as const };
    expect(problemWith(open, untouched(fresh.id), false)?.words).toBe("remind");
    expect(problemWith(open, untouched(fresh.id), true)).toBeNull();
    expect(problemWith({ ...fresh, need: "must" }, untouched(fresh.id), true)?.words).toMatch(/Please$/);
  });
});

const problemOf = (word: Parameters<typeof questionKind>[0], more: object, value: unknown) => {
  const found = questionKind(word).problem({ ...question(word, "asked"), ...more } as never, value);
  return found ? [found.words, ...Object.values(found.values ?? {})] : null;
};

describe("answers that cannot stay", () => {
  const options = ["a", "b", "c"].map((id) => ({ id, label: id }));
  it.each([
    ["one-of", { options }, { option: "x" }, ["choosePlease"]],
    ["one-of", { options, other: "other" }, { option: "other", other: " " }, ["otherPlease"]],
    ["one-of", { options, other: "other" }, { option: "other", other: "d" }, null],
    ["several-of", { options, least: 2 }, { options: ["a"] }, ["ticksLeast", 2]],
    ["several-of", { options, most: 1 }, { options: ["a", "b"] }, ["ticksMost", 1]],
    [
      "several-of",
      { options: [...options, { id: "n", label: "none", alone: true }] },
      { options: ["a", "n"] },
      ["aloneOnly"],
    ],
    [
      "several-of",
      { options: [...options, { id: "n", label: "none", alone: true }], least: 2 },
      { options: ["n"] },
      null,
    ],
    ["scale", { points: 5, from: 0 }, { point: 5 }, ["choosePlease"]],
    ["scale", { points: 5, from: 0 }, { point: null }, ["choosePlease"]],
    ["scale", { apart: "does not apply" }, { point: null }, null],
    ["number", { least: 18, most: 99 }, 17, ["numberBetween", 18, 99]],
    ["number", {}, 1.5, ["numberWhole"]],
    ["number", { decimals: 1 }, 1.25, ["numberDecimals", 1]],
    ["short-text", { least: 3 }, "ab", ["textLeast", 3, 2]],
    ["long-text", { most: 3 }, "👩‍🌾abc", ["textMost", 3, 6]],
    ["date", { earliest: "2026-05-01" }, "2026-04-30", ["dateEarliest", "2026-05-01"]],
    ["date", {}, "2026-02-30", ["datePlease"]],
    ["time", {}, "24:00", ["timePlease"]],
    ["ranking", { options }, { ranked: ["a", "a", "b"] }, ["rankAll"]],
    ["shares", { options, total: 10 }, { each: { a: 3, b: 6 } }, ["sharesTotal", 10, 9]],
    ["shares", { options, total: 1 }, { each: { a: 0.1, b: 0.2, c: 0.7 } }, null],
    ["own-code", {}, "ABC1", ["codePlease", "MAR40"]],
    ["own-code", {}, "ÅÄÖ12", null],
    ["line", { from: 0, to: 1, step: 0.1 }, 0.35, ["choosePlease"]],
  ] as const)("%s %j: %j", (word, more, value, expected) =>
    expect(problemOf(word, more, value)).toEqual(expected as unknown),
  );

  it("are told in words that participants' languages have", () => {
    for (const name of ["remind", "answerPlease", "agreePlease", "linesLeft"] as const)
      expect(wordingNames[name]).toBeTruthy();
  });
});

it("lines that are left open keep a page as its question says, and what is there stays", () => {
  const open = (need: "must" | "reminder" | "may") => ({ ...question("statements", "views"), need });
  const [first] = open("may").statements;
  const entry = { ...untouched("q-views"), value: { each: { [first!.id]: 2 } } };
  expect(problemWith(open("must"), entry, true)?.words).toBe("linesLeft");
  expect(problemWith(open("reminder"), entry, false)?.words).toBe("linesLeft");
  expect(problemWith(open("reminder"), entry, true)).toBeNull();
  expect(problemWith(open("may"), entry, false)).toBeNull();
  expect(stateOf(open("may"), entry, true)).toBe("answered");
  expect(stateOf(question("number", "age", { least: 18 }), { ...untouched("q-age"), value: 12 }, true)).toBe(
    "timed-out",
  );
});

describe("what is typed", () => {
  it.each([
    ["12", 12],
    ["1,5", 1.5],
    ["−3.25", -3.25],
    [" 007 ", 7],
    ["1e3", null],
    ["12 kg", null],
    ["", null],
  ])("“%s” is the number %s", (typed, number) => expect(numberIn(typed)).toBe(number));
  it("is a day only if there is one", () => {
    expect(["2024-02-29", "2026-12-31"].every(isDay)).toBe(true);
    expect(["2026-02-29", "2026-13-01", "2026-00-10", "26-01-01"].some(isDay)).toBe(false);
  });
  it("falls on a step of a line, free of rounding errors", () => {
    for (let at = 0; at <= 10; at++) expect(onStep({ from: 0, to: 1, step: 0.1 }, at / 10 + 0.004)).toBe(at / 10);
  });
});

it("an answer is revised where something is taken back, not where something is added", () => {
  expect(isRevised(null, "a")).toBe(false);
  expect(isRevised("a", "b")).toBe(true);
  expect(isRevised({ each: { x: 1 } }, { each: { x: 1, y: 2 } })).toBe(false);
  expect(isRevised({ each: { x: 1 } }, { each: { x: 2, y: 2 } })).toBe(true);
  expect(isRevised({ options: ["a"] }, { options: ["a", "b"] })).toBe(false);
  expect(isRevised({ option: "other", other: "" }, { option: "other", other: "tern" })).toBe(false);
  expect(isRevised({ option: "other", other: "tern" }, { option: "other", other: "gull" })).toBe(true);
  expect(isRevised({ options: ["a", "b"] }, { options: ["b"] })).toBe(true);
});

it("a study with every kind is read from its file as it was written", () => {
  const study = everyKind();
  const parsed = parseStudy(JSON.parse(JSON.stringify(study)));
  expect(parsed.ok ? parsed.document : parsed.mistakes).toEqual(study);
  expect(questionsInOrder(study)).toHaveLength(questionKinds.length);
});

it("two questions of one name, or with one id, are refused in words", () => {
  const study = everyKind();
  const [page] = Object.values(study.parts);
  if (page?.kind !== "page") throw new Error("no page");
  page.flow.push({ ...question("scale", "number"), id: "q-two" });
  const parsed = parseStudy(JSON.parse(JSON.stringify(study)));
  expect(parsed.ok ? [] : parsed.mistakes.join(" ")).toMatch(/“number” is used already/);
});
