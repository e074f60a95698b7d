import { describe, expect, it } from "vitest";
import { plainStudy } from "~/tests/support/studies";
import type { Operand } from "./calculation";
import type { Condition } from "./condition";
import { emptyBlockTally, emptyTally } from "./tally";
import { holds, resolveNumber, valueAsText, valueOf } from "./resolve";
import type { Context } from "./context";

const document = {
  ...plainStudy(),
  groups: [{ id: "g", name: "Early" }],
  groupValues: [{ id: "k", name: "left_key", type: "key" as const, perGroup: { g: "f" } }],
};
const context: Context = {
  study: document,
  group: "g",
  participant: 12,
  values: { gap: 6, word: "gull", empty: null, on: true, size: "4.5" },
  tally: {
    trialsDone: 7,
    session: { scored: 10, right: 9 },
    block: { ...emptyBlockTally, done: 4, scored: 4, right: 3, rtSum: 1230, rtCount: 3 },
    last: { answer: "f", right: true, rt: 412.34, outcome: "right" },
    answers: {},
  },
  placed: {},
  isPractice: false,
  variables: {},
  changes: {},
  session: { now: 0, part: 0, points: 0, sitting: 1 },
  device: null,
};
const builtIn = (name: string) => valueOf({ builtIn: name }, context);

describe("values", () => {
  it("come from the row, the group and the session", () => {
    expect([
      valueOf({ column: "gap" }, context),
      valueOf({ groupValue: "k" }, context),
      builtIn("participant.number"),
      builtIn("participant.group"),
    ]).toEqual([6, "f", 12, "Early"]);
    expect(
      [
        "session.trials_done",
        "block.trials_done",
        "block.accuracy",
        "block.mean_rt_ms",
        "last.answer",
        "last.right",
        "last.rt_ms",
        "last.outcome",
      ].map(builtIn),
    ).toEqual([7, 4, 0.75, 410, "f", true, 412.34, "right"]);
  });
  it("are missing, not zero, where there is nothing yet", () => {
    const fresh = { ...context, tally: emptyTally };
    for (const name of ["block.accuracy", "block.mean_rt_ms", "last.answer", "last.rt_ms"])
      expect(valueOf({ builtIn: name }, fresh)).toBeNull();
    expect([
      valueOf({ column: "gone" }, context),
      valueOf({ groupValue: "gone" }, context),
      builtIn("last.mood"),
    ]).toEqual([null, null, null]);
  });
  it("are read by participants in whole milliseconds, per cent, and keys as they stand on the keyboard", () => {
    const read = (ref: Parameters<typeof valueAsText>[0]) => valueAsText(ref, context);
    expect([
      read({ builtIn: "last.rt_ms" }),
      read({ builtIn: "block.accuracy" }),
      read({ groupValue: "k" }),
      read({ column: "on" }),
      read({ column: "empty" }),
    ]).toEqual(["412", "75 %", "F", "yes", ""]);
  });
  it("count as numbers where they are written as such, and only there", () => {
    const number = (column: string) => resolveNumber({ from: { column } }, context);
    expect([
      number("gap"),
      number("size"),
      number("word"),
      number("empty"),
      number("on"),
      resolveNumber(3, context),
    ]).toEqual([6, 4.5, null, null, null, 3]);
  });
});

describe("conditions", () => {
  const column = (id: string): Operand => ({ from: { column: id } });
  const is = (left: Operand, sign: "=" | "≠" | "<" | "≤" | ">" | "≥", right: Operand): Condition => ({
    left,
    is: sign,
    right,
  });
  it.each<[Condition, boolean]>([
    [is(column("word"), "=", "gull"), true],
    [is(column("word"), "≠", "gull"), false],
    [is(column("gap"), "=", "6"), true],
    [is(column("gap"), "<", 6), false],
    [is(column("gap"), "≤", 6), true],
    [is(column("size"), ">", 4), true],
    [is(column("gap"), "≥", column("size")), true],
    [is(column("empty"), "=", null), true],
    [is(column("empty"), "=", ""), false],
    [is(column("empty"), "<", 5), false],
    [is(column("empty"), "≥", 0), false],
    [{ all: [is(1, "=", 1), is(1, "=", 2)] }, false],
    [{ any: [is(1, "=", 1), is(1, "=", 2)] }, true],
    [{ not: is(1, "=", 2) }, true],
    [{ all: [] }, true],
    [{ any: [] }, false],
  ])("%j is %s", (condition, result) => expect(holds(condition, context)).toBe(result));
});
