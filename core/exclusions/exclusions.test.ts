import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ColumnBuilder, type Column } from "../tidy/column";
import { packed, unpacked } from "../tidy/packed";
import type { Cell } from "../values/data-column";
import { mistakesIn } from "../shape/shape";
import { columnsNeeded, leaveOut } from "./leave-out";
import { Measured } from "./measured";
import { exclusionsInWords } from "./method";
import {
  freshRule,
  kindOf,
  kindsOn,
  phraseOf,
  rule as ruleShape,
  ruleInWords,
  slotSays,
  usualRules,
  type Rule,
} from "./registry";
import { exclusionChange } from "./change";
import { ruleProblem } from "./problem";
import { criterionFor, recursivelyOut } from "./recursion";
import { within } from "./spread";

type Trial = {
  right: boolean | null;
  rt: number | null;
  practice?: boolean;
  part?: string;
  side?: string;
  again?: boolean;
  late?: number;
  attempt?: number;
  place?: number;
  blockAttempt?: number;
};
type Session = {
  person?: string;
  isFinished?: boolean;
  isMarked?: boolean;
  minutes?: number | null;
  mood?: Cell;
  trials: Trial[];
};

function columnOf(cells: readonly Cell[]): Column {
  const builder = new ColumnBuilder(cells.length);
  const bytes = packed(cells);
  if (cells.length > 0) builder.add(bytes && unpacked(bytes, cells.length), cells.length);
  return builder.done();
}
const yesOrNo = (is: boolean | undefined) => (is ? "yes" : "no");

function measured(sessions: readonly Session[]): Measured {
  const all = sessions.flatMap(({ trials }) => trials);
  const starts = new Uint32Array(sessions.length + 1);
  for (const [at, { trials }] of sessions.entries()) starts[at + 1] = starts[at]! + trials.length;
  const of = (read: (trial: Trial) => Cell) => columnOf(all.map(read));
  return new Measured(
    sessions.map(({ person, isFinished = true, isMarked = false }, at) => ({
      isFinished,
      isMarked,
      person: person ?? `p${at}`,
    })),
    starts,
    {
      trials: new Map([
        ["@right", of(({ right }) => (right === null ? null : Number(right)))],
        ["@rt", of(({ rt }) => rt)],
        ["@first", of(({ again }) => (again ? 0 : 1))],
        ["practice", of(({ practice }) => yesOrNo(practice))],
        ["part", of(({ part }) => part ?? "Main")],
        ["side", of(({ side }) => side ?? "left")],
        ["late_frames", of(({ late }) => late ?? 0)],
        ["attempt", of(({ attempt }) => attempt ?? 1)],
        ["trial_in_block", of(({ place }) => place ?? 1)],
        ["block_attempt", of(({ blockAttempt }) => blockAttempt ?? 1)],
      ]),
      sessions: new Map([
        ["@minutes", columnOf(sessions.map(({ minutes }) => minutes ?? null))],
        ["mood", columnOf(sessions.map(({ mood }) => mood ?? null))],
      ]),
    },
  );
}
const made = (kind: Rule["kind"], change: object = {}): Rule => ({ ...freshRule(kind, kind), ...change }) as Rule;
const hit = (rt: number, more: Partial<Trial> = {}): Trial => ({ right: true, rt, ...more });
const out = (rules: Rule[], sessions: Session[]) => {
  const { sessions: bySession, trials, times, counts } = leaveOut(rules, measured(sessions));
  return {
    sessions: [...bySession],
    trials: [...trials],
    times: [...times],
    out: counts.map((count) => count.out),
    means: counts.map((count) => count.means),
  };
};

describe("rules for sessions", () => {
  const plain = (more: Partial<Session> = {}): Session => ({ trials: [hit(400), hit(500)], ...more });

  it("mean the sessions they say", () => {
    const wrong: Trial = { right: false, rt: 300 };
    const cases: [Rule, Session[], number[]][] = [
      [made("marked"), [plain({ isMarked: true }), plain()], [1, 0]],
      [made("not-finished"), [plain(), plain({ isFinished: false })], [0, 1]],
      // Half are right, and practice and what came again are not looked at.
      [
        made("right-under", { under: 50 }),
        [plain({ trials: [hit(1), wrong, { ...wrong, practice: true }, { ...wrong, again: true }] })],
        [0],
      ],
      [
        made("right-under", { under: 50.1 }),
        [plain({ trials: [hit(1), wrong] }), plain({ trials: [{ right: null, rt: 5 }] })],
        [1, 0],
      ],
      [
        made("median-outside", { from: 450, to: 460 }),
        [plain(), plain({ trials: [hit(461)] }), plain({ trials: [hit(1), wrong, wrong] }), plain({ trials: [] })],
        [0, 1, 1, 0],
      ],
      [
        made("late-share", { over: 50 }),
        [plain({ trials: [hit(1, { late: 2 }), hit(2)] }), plain({ trials: [hit(1, { late: 1 })] })],
        [0, 1],
      ],
      [made("interrupted-share", { over: 0 }), [plain({ trials: [hit(1, { attempt: 2 }), hit(2)] }), plain()], [1, 0]],
      [
        made("minutes", { which: "more", minutes: 30 }),
        [plain({ minutes: 30 }), plain({ minutes: 30.5 }), plain({ minutes: null })],
        [0, 1, 0],
      ],
      [made("minutes", { which: "less", minutes: 5 }), [plain({ minutes: 4 }), plain({ minutes: null })], [1, 0]],
      [
        made("attempts", { over: 2 }),
        [plain({ trials: [hit(1, { blockAttempt: 3 })] }), plain({ trials: [hit(1, { blockAttempt: 2 })] })],
        [1, 0],
      ],
      [
        made("value", { column: "mood", is: "is", value: "Tired" }),
        [plain({ mood: "tired" }), plain({ mood: "awake" }), plain()],
        [1, 0, 0],
      ],
      [
        made("value", { column: "mood", is: "at-least", value: "3" }),
        [plain({ mood: 3 }), plain({ mood: 2 }), plain()],
        [1, 0, 0],
      ],
      // A rule that is not written to its end leaves nobody out, and neither does one about a column that is not there.
      [made("value", { column: "mood", is: "is", value: "" }), [plain({ mood: "tired" }), plain()], [0, 0]],
      [made("value", { column: "height", is: "empty", value: "" }), [plain()], [0]],
    ];
    for (const [rule, sessions, expected] of cases)
      expect(out([rule], sessions).sessions, ruleInWords(rule)).toEqual(expected);
  });

  it("compare a session with the others that are still in", () => {
    const of = (median: number): Session => ({ trials: [hit(median)] });
    const sessions = [of(400), of(410), of(420), of(430), of(2000), of(9000)];
    const rule = made("unlike-others", { times: 3, spread: "mad" });
    expect(out([rule], sessions).sessions).toEqual([0, 0, 0, 0, 1, 1]);
    // Two that are marked before leave the two slow ones to be far from.
    const sd = made("unlike-others", { times: 1.5, spread: "sd" });
    expect(out([sd], sessions).sessions).toEqual([0, 0, 0, 0, 0, 1]);
    expect(
      out(
        [made("marked"), sd],
        sessions.map((session, at) => ({ ...session, isMarked: at === 5 })),
      ).sessions,
    ).toEqual([0, 0, 0, 0, 2, 1]);
  });
});

describe("rules for trials", () => {
  it("mean the trials they say, and leave out the trial or its time", () => {
    const wrong: Trial = { right: false, rt: 300 };
    const missed: Trial = { right: false, rt: null };
    const cases: [Rule, Trial[], number[]][] = [
      [made("practice"), [hit(1, { practice: true }), hit(1)], [1, 0]],
      [made("again"), [hit(1), hit(1, { again: true })], [0, 1]],
      [made("opening", { first: 2 }), [hit(1, { place: 1 }), hit(1, { place: 2 }), hit(1, { place: 3 })], [1, 1, 0]],
      [made("too-fast", { under: 150 }), [hit(149.9), hit(150), wrong, missed], [1, 0, 0, 0]],
      [made("too-slow", { over: 2000 }), [hit(2000), hit(2000.1), missed], [0, 1, 0]],
      [made("interrupted"), [hit(1), hit(1, { attempt: 2 })], [0, 1]],
      [made("late"), [hit(1), hit(1, { late: 1 })], [0, 1]],
      [
        made("after-wrong"),
        [
          wrong,
          hit(1),
          missed,
          hit(1),
          hit(1),
          wrong,
          hit(1, { part: "Next" }),
          missed,
          hit(1, { part: "Next", blockAttempt: 2 }),
        ],
        [0, 1, 0, 1, 0, 0, 0, 0, 0],
      ],
      [made("wrong"), [hit(1), wrong, missed, { right: null, rt: 5 }], [0, 1, 0, 0]],
    ];
    for (const [rule, trials, expected] of cases) {
      const kind = kindOf(rule);
      const found = out([rule], [{ trials }]);
      const timesOnly = kind.on === "trials" && kind.timesOnly(rule);
      expect(found[timesOnly ? "times" : "trials"], ruleInWords(rule)).toEqual(expected);
      expect(found[timesOnly ? "trials" : "times"]).toEqual(expected.map(() => 0));
    }
  });

  it("by spread look at the person, the condition, or both, and only at times that are in", () => {
    const sides = (left: number[], right: number[]): Session => ({
      trials: [...left.map((rt) => hit(rt, { side: "left" })), ...right.map((rt) => hit(rt, { side: "right" }))],
    });
    const sessions = [
      sides([100, 101, 102, 103, 140], [200, 201, 202, 203, 204]),
      sides([500, 501, 502, 503, 504], [600, 601, 602, 603, 604]),
    ];
    const far = (of: string) =>
      out([made("beyond", { of, conditions: ["side"], times: 3 })], sessions).times.flatMap((by, at) =>
        by > 0 ? [at] : [],
      );
    expect(far("person")).toEqual([]);
    expect(far("person-condition")).toEqual([4]);
    expect(far("condition")).toEqual([]);
    const onlySlow = made("beyond", { of: "person", side: "slow", times: 2 });
    expect(out([onlySlow], [{ trials: [1, 100, 101, 102, 103, 104, 900].map((rt) => hit(rt)) }]).times).toEqual([
      0, 0, 0, 0, 0, 0, 1,
    ]);
    // The slow one was left out before, and so another is far.
    const trials = [10, 11, 12, 13, 14, 60, 5000].map((rt) => hit(rt));
    const sd = made("beyond", { spread: "sd", around: "mean", times: 2 });
    expect(out([sd], [{ trials }]).times).toEqual([0, 0, 0, 0, 0, 0, 1]);
    expect(out([made("too-slow", { over: 1000 }), sd], [{ trials }])).toMatchObject({
      trials: [0, 0, 0, 0, 0, 0, 1],
      times: [0, 0, 0, 0, 0, 2, 0],
    });
  });

  it("that name a column which is not there leave nothing out", () => {
    const trials = [10, 11, 12, 13, 14, 5000].map((rt) => hit(rt));
    for (const rule of [
      made("beyond", { of: "person-condition", conditions: ["height"] }),
      made("recursive", { conditions: ["side", "height"] }),
    ])
      expect(out([rule], [{ trials }]).times).toEqual([0, 0, 0, 0, 0, 0]);
    const there = { trials: new Set(["side"]), sessions: new Set(["mood"]) };
    expect(ruleProblem(made("recursive", { conditions: ["side", "height"] }), there)).toContain("no column “height”");
    expect(ruleProblem(made("recursive", { conditions: ["side"] }), there)).toBeNull();
    expect(ruleProblem(made("value", { column: "height" }), there)).toContain("no column “height”");
  });

  it("pool the sittings of one person", () => {
    const slow = { trials: [hit(900)] };
    const usual = { trials: [100, 101, 102, 103, 104, 105].map((rt) => hit(rt)) };
    const rule = made("beyond");
    expect(
      out(
        [rule],
        [
          { person: "1", ...usual },
          { person: "1", ...slow },
        ],
      ).times.at(-1),
    ).toBe(1);
    expect(
      out(
        [rule],
        [
          { person: "1", ...usual },
          { person: "2", ...slow },
        ],
      ).times.at(-1),
    ).toBe(0);
  });
});

describe("the modified recursive procedure", () => {
  it("has the published criteria, and others between them", () => {
    expect([4, 10, 15, 20, 100].map(criterionFor)).toEqual([8, 4.11, 3.75, 3.64, 3.51]);
    expect(criterionFor(17)).toBeCloseTo(3.75 - (2 * (3.75 - 3.64)) / 5, 12);
    expect(criterionFor(5000)).toBe(3.51);
  });

  /** Word for word, without sums that are carried on. */
  function plainly(times: readonly number[]): number[] {
    let left = times.map((time, at) => ({ time, at })).sort((a, b) => a.time - b.time);
    const gone: number[] = [];
    while (left.length >= 4) {
      const others = left.slice(0, -1).map(({ time }) => time);
      const mean = others.reduce((sum, time) => sum + time, 0) / others.length;
      const sd = Math.sqrt(others.reduce((sum, time) => sum + (time - mean) ** 2, 0) / (others.length - 1));
      const width = criterionFor(left.length) * sd;
      const [first, last] = [left[0]!, left.at(-1)!];
      const far = [...(last.time > mean + width ? [last] : []), ...(first.time < mean - width ? [first] : [])];
      if (far.length === 0) break;
      gone.push(...far.map(({ at }) => at));
      left = left.filter((each) => !far.includes(each));
    }
    return gone;
  }

  it("takes what it says, one slow and one fast time after the other", () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof({ weight: 8, arbitrary: fc.integer({ min: 300, max: 700 }) }, fc.integer({ min: 1, max: 20_000 })),
          { maxLength: 60 },
        ),
        (times) => void expect(recursivelyOut(times)).toEqual(plainly(times)),
      ),
      { numRuns: 500 },
    ));

  it("looks at right answers of a person in a condition", () => {
    const trials = [
      ...[400, 410, 420, 430, 440, 450, 460, 470].map((rt) => hit(rt)),
      hit(5000),
      { right: false, rt: 9000 },
    ];
    expect(out([made("recursive")], [{ trials }]).times).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 1, 0]);
    const bySide = trials.map((trial, at) => ({ ...trial, side: at === 8 ? "right" : "left" }));
    expect(out([made("recursive", { conditions: ["side"] })], [{ trials: bySide }]).times).toEqual(bySide.map(() => 0));
  });
});

it("a spread is of the mean or of the median, and means nothing of a single value", () => {
  expect(within([1, 2, 3, 4, 5], { times: 1, spread: "mad", around: "median" })).toEqual({
    from: 3 - 1.4826,
    to: 3 + 1.4826,
  });
  const { from, to } = within([1, 2, 3, 4, 5], { times: 2, spread: "sd", around: "mean" });
  expect([from, to]).toEqual([3 - 2 * Math.sqrt(2.5), 3 + 2 * Math.sqrt(2.5)]);
  expect(within([7], { times: 1, spread: "sd", around: "mean" })).toEqual({ from: -Infinity, to: Infinity });
});

const anyTrial: fc.Arbitrary<Trial> = fc.record({
  right: fc.constantFrom(true, true, true, false, null),
  rt: fc.oneof(fc.integer({ min: 50, max: 3000 }), fc.constant(null)),
  practice: fc.boolean(),
  part: fc.constantFrom("A", "B"),
  side: fc.constantFrom("left", "right"),
  again: fc.boolean(),
  late: fc.constantFrom(0, 0, 1),
  attempt: fc.constantFrom(1, 1, 2),
  place: fc.integer({ min: 1, max: 5 }),
  blockAttempt: fc.constantFrom(1, 2),
});
const anySession: fc.Arbitrary<Session> = fc.record({
  person: fc.constantFrom("1", "2", "3"),
  isFinished: fc.boolean(),
  isMarked: fc.boolean(),
  minutes: fc.oneof(fc.integer({ min: 1, max: 90 }), fc.constant(null)),
  mood: fc.constantFrom<Cell>("tired", 3, null),
  trials: fc.array(anyTrial, { maxLength: 12 }),
});
const allKinds = [...kindsOn("sessions"), ...kindsOn("trials")].map(({ kind }) => kind);
const anyRules: fc.Arbitrary<Rule[]> = fc
  .array(fc.record({ kind: fc.constantFrom(...allKinds), isOn: fc.boolean(), from: fc.constantFrom("times", "all") }), {
    maxLength: 10,
  })
  .map((some) =>
    some.map(({ kind, isOn, from }, at) => {
      const rule = { ...freshRule(kind, `r${at}`), isOn } as Rule & {
        from?: string;
        conditions?: string[];
        column?: string;
      };
      if (rule.from !== undefined) Object.assign(rule, { from });
      if (rule.conditions) Object.assign(rule, { conditions: ["side"] });
      if (rule.column !== undefined) Object.assign(rule, { column: "mood", is: "not-empty" });
      return rule;
    }),
  );

describe("any rules", () => {
  it("lose nothing and count each trial once: what is in and what each took make up the whole", () =>
    fc.assert(
      fc.property(fc.array(anySession, { maxLength: 6 }), anyRules, (sessions, rules) => {
        const { sessions: bySession, trials, times, counts } = leaveOut(rules, measured(sessions));
        const all = sessions.flatMap((session, at) => session.trials.map((trial) => ({ trial, at })));
        expect([bySession.length, trials.length, times.length]).toEqual([sessions.length, all.length, all.length]);
        for (const [at, rule] of rules.entries()) {
          const kind = kindOf(rule);
          const count = counts.find(({ id }) => id === rule.id)!;
          expect(count.means).toBeGreaterThanOrEqual(count.out);
          if (!rule.isOn) {
            expect([...bySession, ...trials, ...times]).not.toContain(at + 1);
            continue;
          }
          const took = (of: Uint8Array) => of.reduce((sum, by) => sum + Number(by === at + 1), 0);
          if (kind.on === "sessions") expect(took(bySession)).toBe(count.out);
          else expect(took(kind.timesOnly(rule) ? times : trials)).toBe(count.out);
        }
        for (const [row, { at }] of all.entries()) {
          if (bySession[at] !== 0) expect([trials[row], times[row]]).toEqual([0, 0]);
          // A time goes before its trial does, never after it.
          if (trials[row]! > 0 && times[row]! > 0) expect(times[row]).toBeLessThan(trials[row]!);
        }
      }),
      { numRuns: 300 },
    ));

  it("that are off change nothing, wherever they stand", () =>
    fc.assert(
      fc.property(fc.array(anySession, { maxLength: 5 }), anyRules, (sessions, rules) => {
        const who = (some: readonly Rule[]) => {
          const found = leaveOut(some, measured(sessions));
          const named = (of: Uint8Array) => Array.from(of, (by) => some[by - 1]?.id ?? null);
          return [named(found.sessions), named(found.trials), named(found.times)];
        };
        expect(who(rules)).toEqual(who(rules.filter(({ isOn }) => isOn)));
      }),
      { numRuns: 200 },
    ));

  it("apply in their order: what one took another no longer takes", () => {
    const trials = [hit(100, { practice: true }), hit(100), hit(400)];
    const [fast, practice] = [made("too-fast"), made("practice")];
    expect(out([practice, fast], [{ trials }])).toMatchObject({ trials: [1, 2, 0], out: [1, 1], means: [1, 2] });
    expect(out([fast, practice], [{ trials }])).toMatchObject({ trials: [1, 1, 0], out: [2, 0], means: [2, 1] });
    // Sessions come first wherever their rules stand.
    expect(out([fast, made("marked")], [{ isMarked: true, trials }])).toMatchObject({
      sessions: [2],
      trials: [0, 0, 0],
      out: [0, 1],
    });
  });

  it("fit their shape when they are added, name the columns they look at, and say themselves in words", () => {
    for (const kind of allKinds) {
      const rule = freshRule(kind, "r1");
      expect(mistakesIn(ruleShape, rule), kind).toEqual([]);
      expect(ruleInWords(rule)).not.toMatch(/undefined|\[object/);
      for (const slot of phraseOf(rule)) if (typeof slot !== "string") expect(rule).toHaveProperty(slot.field);
      for (const slot of phraseOf(rule))
        if (typeof slot !== "string") expect(slotSays(rule, slot)).not.toBe("undefined");
    }
    expect(columnsNeeded([made("value", { column: "mood" }), made("recursive", { conditions: ["side"] })])).toEqual({
      sessions: ["mood"],
      trials: ["@rt", "@right", "side"],
    });
    expect(mistakesIn(ruleShape, { ...freshRule("median-outside", "r"), from: 500, to: 400 })[0]?.message).toContain(
      "must be more",
    );
    expect(mistakesIn(ruleShape, { ...freshRule("too-fast", "r"), under: Number.NaN })).not.toEqual([]);
    expect(mistakesIn(ruleShape, { id: "r", isOn: true, kind: "by-the-moon" })[0]?.message).toContain(
      "must have a kind",
    );
  });
});

it("a set's name can be read", () => {
  for (const [name, fits] of [
    ["Ours", true],
    ["  ", false],
    ["x".repeat(81), false],
  ] as const)
    expect(mistakesIn(exclusionChange, { do: "add", name, from: null }).length === 0, name).toBe(fits);
});

describe("the paragraph for the method section", () => {
  const sessions: Session[] = [
    {
      trials: [
        hit(100),
        hit(400),
        hit(500),
        { right: false, rt: 450 },
        hit(450, { practice: true }),
        { right: false, rt: null },
      ],
    },
    { isFinished: false, trials: [hit(400)] },
    { trials: [hit(410), hit(5000)] },
  ];
  const told = (rules: Rule[], of = sessions, registered: Parameters<typeof exclusionsInWords>[2] = null) => {
    const data = measured(of);
    const left = leaveOut(rules, data);
    const kept = of.flatMap(({ trials }, at) => (left.sessions[at] === 0 ? trials : []));
    const rows = of.flatMap(({ trials }, at) => trials.map((trial) => ({ trial, at })));
    const inRows = rows.flatMap(({ trial, at }, row) =>
      left.sessions[at] === 0 ? [{ trial, out: left.trials[row], time: left.times[row] }] : [],
    );
    const stays = inRows.filter((row) => row.out === 0);
    const timed = stays.filter(({ trial }) => trial.rt !== null);
    return exclusionsInWords(
      rules,
      {
        sessions: { in: of.length, kept: left.sessions.filter((by) => by === 0).length },
        trials: {
          in: kept.length,
          kept: stays.length,
          timedIn: timed.length,
          timed: timed.filter(({ time }) => time === 0).length,
        },
        counts: left.counts,
      },
      registered,
    );
  };

  it("says what was left out, in what order, and what stays", () => {
    expect(told(usualRules())).toBe(
      "Three sessions were analysed. Of their nine trials, one was practice (11.1 %); eight were kept. For times, one trial had none; of the other seven, one had a wrong answer (14.3 %); six were kept.",
    );
    const rules = [
      made("not-finished"),
      made("right-under", { under: 10 }),
      ...usualRules(),
      made("too-fast"),
      made("too-slow", { from: "times" }),
    ];
    expect(told(rules)).toBe(
      "Of three sessions, one was not finished and no session had fewer than 10 % right answers outside practice; two were analysed. " +
        "Of their eight trials, one was practice (12.5 %) and one was faster than 150 ms (12.5 %); six were kept. " +
        "For times, one trial had none; of the other five, one had a wrong answer (20 %) and one was slower than 2000 ms (20 %); three were kept. " +
        "Criteria were applied in this order, each to what the ones before it had left.",
    );
  });

  it("says what of rules that are off: nothing", () => {
    expect(told(usualRules().map((rule) => ({ ...rule, isOn: false })))).toBe("Three sessions were analysed.");
    expect(told([], [])).toBe("No sessions were analysed.");
    expect(told([made("not-finished")], [{ trials: [] }, { trials: [] }])).toBe(
      "Of two sessions, all were finished; all were analysed.",
    );
  });

  it("says when criteria were recorded, and what was known then", () => {
    const registered = { at: "2026-11-27T10:00:00Z", by: "Ada", hash: "00", sessions: 0, looked: false };
    expect(told([], sessions, registered)).toContain(
      "These criteria were recorded on 27 November 2026, before the first session.",
    );
    expect(told([], sessions, { ...registered, sessions: 12, looked: true })).toContain(
      "when 12 sessions were in and results had been looked at.",
    );
    expect(told([], sessions, { ...registered, sessions: 1 })).toContain(
      "when one session was in and nobody had looked at results.",
    );
  });
});
