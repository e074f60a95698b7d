import { describe, expect, it } from "vitest";
import { question } from "~/tests/support/forms";
import type { Question } from "../questions/registry";
import { rawScore, reportedScore, type Outcomes, type Score } from "./score";

const scale = (name: string, reversed = false) => question("scale", name, { points: 5, from: 1, reversed });
const score = (of: Score["of"], from: Question[], more: Partial<Score> = {}): Score => ({
  id: "s",
  name: "s",
  of,
  from: from.map(({ id }) => ({ question: id })),
  atLeast: 1,
  ...more,
});
const answered = (value: unknown) => ({ state: "answered" as const, value });
const skipped = { state: "skipped" as const, value: null };
const raw = (what: Score, questions: Question[], outcomes: Outcomes) =>
  rawScore(what, (id) => questions.find((each) => each.id === id), outcomes);

describe("scores", () => {
  const three = [scale("a"), scale("b", true), scale("c")];
  const points = (a: number | null, b: number | null, c: number | null): Outcomes =>
    Object.fromEntries(
      (
        [
          ["q-a", a],
          ["q-b", b],
          ["q-c", c],
        ] as const
      ).map(([id, point]) => [id, point === null ? skipped : answered({ point })]),
    );

  it("reverse first", () => {
    expect(raw(score("sum", three), three, points(1, 1, 5))).toBe(1 + 5 + 5);
    expect(raw(score("mean", three), three, points(2, 4, 3))).toBeCloseTo((2 + 2 + 3) / 3, 10);
  });
  it("with answers missing, a sum is the mean of those there times the number of items", () => {
    expect(raw(score("sum", three), three, points(2, null, 5))).toBe(10.5);
    expect(raw(score("sum", three, { atLeast: 3 }), three, points(2, null, 5))).toBeNull();
  });
  it("leave out what was not asked, or hidden again", () => {
    const outcomes = { "q-a": answered({ point: 2 }), "q-b": { state: "not-shown" as const, value: { point: 1 } } };
    expect(raw(score("sum", three), three, outcomes)).toBe(2);
  });
  it("count what is right of what was asked; a question left out is not right", () => {
    const test = ["a", "b", "c"].map((name) =>
      question("one-of", name, {
        options: [
          { id: "x", label: "x", right: true },
          { id: "y", label: "y" },
        ],
      }),
    );
    const outcomes = { "q-a": answered({ option: "x" }), "q-b": answered({ option: "y" }), "q-c": skipped };
    expect(raw(score("count-right", test), test, outcomes)).toBe(1);
    expect(raw(score("share-right", test), test, outcomes)).toBeCloseTo(1 / 3, 10);
    expect(raw(score("share-right", test, { atLeast: 3 }), test, outcomes)).toBeNull();
  });
  it("take statements one by one, each in its direction", () => {
    const rated = question("statements", "r", {
      points: 5,
      from: 1,
      statements: [
        { id: "i", name: "i", text: "One" },
        { id: "j", name: "j", text: "Two", reversed: true },
      ],
    });
    const outcomes = { "q-r": answered({ each: { i: 4, j: 1 } }) };
    expect(raw(score("mean", [rated]), [rated], outcomes)).toBe(4.5);
    expect(raw({ ...score("sum", []), from: [{ question: "q-r", part: "j" }] }, [rated], outcomes)).toBe(5);
  });
  it("are reported by the last line they reach", () => {
    const table = score("sum", [], {
      reported: [
        { from: 10, value: "high" },
        { from: 0, value: "low" },
      ],
    });
    expect([null, -1, 0, 9.9, 10].map((value) => reportedScore(table, value))).toEqual([
      null,
      null,
      "low",
      "low",
      "high",
    ]);
  });
});
