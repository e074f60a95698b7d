import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../compile/compile";
import type { Block } from "../design/block";
import { newPage } from "../design/page";
import type { StudyDocument } from "../design/document";
import type { Act } from "../records/firing";
import type { SessionRecord, TrialRecord } from "../records/record";
import type { Action } from "../rules/action";
import type { Rule } from "../rules/rule";
import type { Trigger } from "../rules/trigger";
import type { Condition } from "../values/condition";
import { plainText } from "../values/formatted-text";
import { newCriterion } from "../rules/criterion";
import { rebuild } from "./replay";
import { sessionMachine } from "./session-machine";
import type { Command, Given, SessionEvent } from "./state";

let count = 0;
const rule = (when: Trigger, does: Action | Action[], only?: Condition): Rule => ({
  id: `rule-${++count}`,
  name: "",
  when,
  do: Array.isArray(does) ? does : [does],
  ...(only ? { if: only } : {}),
});
const set = (to: Extract<Action, { do: "set" }>["to"]): Action => ({ do: "set", what: { variable: "v" }, to });
const add = (to: number): Action => ({ do: "add", what: { variable: "v" }, to });
const builtIn = (name: string) => ({ from: { builtIn: name } });

/** A block of four trials as listed, fixation 500 ms, then target until F or J, at most 2000 ms; F, J, F, J are right. */
function study(change: (block: Block, document: StudyDocument) => void = () => undefined): StudyDocument {
  return withBlock(plainStudy(), (block, document) => {
    block.order.method = "as-listed";
    block.order.passes = 2;
    document.runningOrder = document.runningOrder.slice(1);
    document.parts = Object.fromEntries(
      document.runningOrder.flatMap((node) => (node.kind === "part" ? [[node.part, document.parts[node.part]!]] : [])),
    );
    document.variables = [
      { id: "v", name: "tally_now", type: "number", start: 0 },
      { id: "list", name: "words_left", type: "list", start: ["gull", "tern", "knot"] },
    ];
    change(block, document);
  });
}
const ruled = (...rules: Rule[]) => study((block) => void (block.rules = rules));

/** Plays lines such as `flip 100`, `f 512`, `time 900`, `key KeyB 300`, `shown 0`, `go 10`. */
function play(document: StudyDocument, lines: readonly string[], given: Given = {}) {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id), { given });
  let step = machine.begin();
  const commands: Command[] = [...step.commands];
  const records: SessionRecord[] = [];
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    commands.push(...step.commands);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
  };
  const act = (at: number, happened: Act["happened"]) => send({ kind: "act", at, happened });
  for (const line of lines) {
    const [what = "", a = "", b = ""] = line.split(" ");
    if (what === "flip") send({ kind: "flip", at: Number(a), late: 0 });
    else if (what === "time") act(Number(a), { on: "time" });
    else if (what === "key") act(Number(b), { on: "key", key: a, act: "press" });
    else if (what === "enter") act(Number(b), { on: "pointer", act: "enter", item: a });
    else if (what === "ended") act(Number(b), { on: "media", what: "ends", item: a });
    else if (what === "message") act(Number(b), { on: "message", item: "web", says: a });
    else if (what === "blur") act(Number(a), { on: "window", what: "focus-lost" });
    else if (what === "shown") send({ kind: "page-shown", at: Number(a) });
    else if (what === "go") send({ kind: "continue", at: Number(a) });
    else send({ kind: "input", at: Number(a), input: { device: "keys", value: what, place: what, act: "press" } });
  }
  const trials = records.filter((record): record is TrialRecord => record.kind === "trial");
  return {
    machine,
    state: step.state,
    commands,
    records,
    trials,
    value: step.state.made.variables["v"] ?? null,
    scenes: trials.map(({ scenes }) =>
      scenes.map(({ scene }) =>
        document.parts[trials[0]!.part]?.kind === "block"
          ? firstBlock(document).scenes.find(({ id }) => id === scene)?.name
          : scene,
      ),
    ),
  };
}
/** One trial from its first flip at `at`, answered with a key so long after the target's onset. */
const trial = (at: number, key: string, after = 300): string[] => [
  `flip ${at}`,
  `flip ${at + 500}`,
  `${key} ${at + 500 + after}`,
  `flip ${at + 500 + after + 16}`,
];

describe("what rules set", () => {
  it.each<[string, Action, number]>([
    ["a variable is", add(1), 1],
    ["points are", { do: "add", what: { points: true }, to: 2 }, 1],
    ["an event is written, which nobody sees, so that nothing is", { do: "event", name: "seen" }, 0],
  ])("%s shown at once, also where a key of no answer set it off", (_, action, count) => {
    const document = ruled(rule({ on: "key", key: "KeyB", act: "press" }, action));
    const { commands } = play(document, ["flip 0", "flip 500"]);
    const after = play(document, ["flip 0", "flip 500", "key KeyB 700"]).commands;
    const refreshes = (all: readonly Command[]) => all.filter(({ kind }) => kind === "refresh").length;
    expect(refreshes(after) - refreshes(commands)).toBe(count);
  });
});

describe("what sets a rule off", () => {
  it.each<[string, Trigger, string[], number | null]>([
    ["the session begins", { on: "session-begins" }, [], 1],
    ["the part begins", { on: "part-begins" }, [], 1],
    ["a trial begins, before it is prepared", { on: "trial-begins" }, [], 1],
    ["a trial begins, each of them", { on: "trial-begins" }, trial(0, "f"), 2],
    ["a trial ends", { on: "trial-ends" }, trial(0, "f"), 1],
    ["a scene begins", { on: "scene-begins" }, ["flip 0", "flip 500"], 2],
    ["a scene ends", { on: "scene-ends" }, ["flip 0", "flip 500"], 1],
    ["an answer is given", { on: "answer", how: "given" }, trial(0, "j"), 1],
    ["an answer is right", { on: "answer", how: "right" }, trial(0, "f"), 1],
    ["an answer is not right", { on: "answer", how: "right" }, trial(0, "j"), null],
    ["an answer is wrong", { on: "answer", how: "wrong" }, trial(0, "j"), 1],
    ["no answer comes", { on: "answer", how: "none" }, ["flip 0", "flip 500", "flip 2500"], 1],
    ["an answer comes, so that none is missing", { on: "answer", how: "none" }, trial(0, "f"), null],
    ["an answer comes too early", { on: "answer", how: "early" }, ["flip 0", "f 200"], 1],
    ["a key is pressed", { on: "key", key: "KeyB", act: "press" }, ["flip 0", "key KeyB 100"], 1],
    ["another key is pressed", { on: "key", key: "KeyB", act: "press" }, ["flip 0", "key KeyC 100"], null],
    ["an item is entered", { on: "pointer", act: "enter", item: "i" }, ["flip 0", "enter i 100"], 1],
    ["a sound ends", { on: "media", what: "ends" }, ["flip 0", "ended s 100"], 1],
    ["a page sends what is waited for", { on: "message", says: "won" }, ["flip 0", "message won 9"], 1],
    ["a page sends something else", { on: "message", says: "won" }, ["flip 0", "message lost 9"], null],
    ["the window loses the focus", { on: "window", what: "focus-lost" }, ["flip 0", "blur 100"], 1],
    ["so many ms after a scene begins", { on: "scene-begins", afterMs: 200 }, ["flip 0", "time 199", "time 200"], 1],
    [
      "so many ms after the trial begins, from its first onset",
      { on: "trial-begins", afterMs: 200 },
      ["flip 1000", "time 1199"],
      null,
    ],
    ["the same a moment later", { on: "trial-begins", afterMs: 200 }, ["flip 1000", "time 1199", "time 1200"], 1],
  ])("%s", (_, when, lines, value) => {
    const place = when.on === "session-begins" ? "study" : "block";
    const document = study((block, copy) => {
      if (place === "study") copy.rules = [rule(when, add(1))];
      else block.rules = [rule(when, add(1))];
    });
    expect(play(document, lines).value).toBe(value);
  });

  it("a variable that changes, after all that happened at the same time", () => {
    const { value, trials } = play(
      ruled(
        rule({ on: "variable", variable: "v" }, { do: "add", what: { points: true }, to: 10 }),
        rule({ on: "answer", how: "right" }, [add(1), { do: "event", name: "seen", value: builtIn("session.points") }]),
      ),
      trial(0, "f"),
    );
    expect(value).toBe(1);
    expect(trials[0]?.fired?.map(({ gave }) => gave)).toEqual([1, 0, 10]);
  });

  it("a question that is answered, once its page is left", () => {
    const page = { ...newPage((prefix) => prefix, "Ask"), id: "ask" };
    page.flow = [
      {
        kind: "number",
        id: "q",
        name: "how_many",
        text: plainText("How many?"),
        need: "may",
        decimals: 0,
        unit: "",
      } as never,
    ];
    page.rules = [rule({ on: "question" }, set({ from: { question: "q" } }))];
    const document = study((_, copy) => {
      copy.parts["ask"] = page;
      copy.runningOrder.unshift({ kind: "part", part: "ask" });
    });
    const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
    let { state } = machine.begin();
    for (const event of [
      { kind: "page-shown", at: 0 },
      { kind: "page-answer", entry: { question: "q", value: 7, ratherNot: false, first: 5, last: 5, changes: 0 } },
      { kind: "continue", at: 10 },
    ] as SessionEvent[])
      state = machine.next(state, event).state;
    expect(state.made.variables["v"]).toBe(7);
  });
});

describe("what a rule does", () => {
  it("sees what the rules before it did, from the study to the scene", () => {
    const document = study((block, copy) => {
      copy.rules = [rule({ on: "answer", how: "given" }, set(5))];
      block.rules = [
        rule({ on: "answer", how: "given" }, set({ calculate: "times", of: [{ from: { variable: "v" } }, 2] })),
      ];
      block.scenes[1]!.rules = [
        rule({ on: "answer", how: "given" }, add(1), { left: { from: { variable: "v" } }, is: "=", right: 10 }),
      ];
    });
    expect(play(document, trial(0, "f")).value).toBe(11);
  });

  it("goes to a scene in place of the one that was to come, and ends the trial from there", () => {
    const document = study((block) => {
      const [fixation] = block.scenes;
      block.scenes.push({
        ...fixation!,
        id: "late",
        name: "too late",
        items: [],
        when: { left: false, is: "=", right: true },
      });
      block.rules = [rule({ on: "answer", how: "none" }, { do: "go-to-scene", scene: "late" })];
    });
    const { scenes } = play(document, ["flip 0", "flip 500", "flip 2500", "flip 3000", ...trial(4000, "j")]);
    expect(scenes).toEqual([
      ["fixation", "target", "too late"],
      ["fixation", "target"],
    ]);
  });

  it("goes on, ends the trial, and ends the block, at the next frame", () => {
    const on = play(ruled(rule({ on: "key", key: "KeyB", act: "press" }, { do: "next-scene" })), [
      "flip 0",
      "key KeyB 100",
    ]);
    expect(on.commands.at(-1)).toEqual({ kind: "flip-now", by: "rule" });
    const end = play(ruled(rule({ on: "key", key: "KeyB", act: "press" }, { do: "end-trial" })), [
      "flip 0",
      "key KeyB 100",
      "flip 116",
    ]);
    expect(end.scenes).toEqual([["fixation"]]);
    const block = play(ruled(rule({ on: "answer", how: "wrong" }, { do: "end-block" })), [
      ...trial(0, "f"),
      ...trial(2000, "f"),
    ]);
    expect([block.trials.length, block.state.phase.kind]).toEqual([2, "page"]);
  });

  it("as its block begins leaves it out, shows a page before it, or ends the session", () => {
    const onPart = (action: Action, only?: Condition) => play(ruled(rule({ on: "part-begins" }, action, only)), []);
    const left = onPart({ do: "end-block" });
    expect([left.trials.length, left.state.phase.kind]).toEqual([0, "page"]);
    expect(onPart({ do: "end-session", as: "finished", text: [] }).state.phase.kind).toBe("done");
    const document = study((block, copy) => {
      copy.parts["again"] = { ...newPage((prefix) => prefix, "Once more"), id: "again" };
      copy.runningOrder.push({ kind: "part", part: "again", aside: true });
      block.rules = [rule({ on: "part-begins" }, { do: "page", page: "again" })];
    });
    const shown = play(document, ["shown 0", "go 10", ...trial(20, "f")]);
    expect(shown.records.map(({ kind }) => kind)).toEqual(["page", "trial"]);
    expect(shown.trials[0]?.trial).toBe(1);
    expect(rebuild(shown.machine, shown.records).state).toEqual(shown.state);
  });

  it("as a trial or its block begins plays a sound with the first scene", () => {
    for (const on of ["trial-begins", "part-begins"] as const) {
      const document = ruled(rule({ on }, { do: "sound", file: "bell", volume: 50 }));
      const soundsIn = (lines: string[]) => play(document, lines).commands.map(({ kind }) => kind);
      expect(soundsIn([])).not.toContain("sound");
      const kinds = soundsIn(["flip 0"]);
      expect(kinds.indexOf("sound")).toBeGreaterThan(kinds.indexOf("show-scene"));
      expect(soundsIn(["flip 0", "flip 500"]).filter((kind) => kind === "sound")).toHaveLength(1);
    }
  });

  it("as a scene begins decides how long it lasts", () => {
    const document = study((block) => {
      block.scenes[0]!.lasts = { kind: "ms", ms: { from: { variable: "v" } } };
      block.rules = [rule({ on: "scene-begins", scene: block.scenes[0]!.id }, set(750))];
    });
    const { commands, trials, machine, records, state } = play(document, trial(0, "f"));
    expect(commands.find(({ kind }) => kind === "show-scene")).toMatchObject({ planned: 750 });
    expect(trials[0]?.scenes[0]?.planned).toBe(750);
    expect(rebuild(machine, records).state).toEqual(state);
  });

  it("as a scene begins leaves it as long as it was to be where that is taken from the trial before", () => {
    const document = study((block) => {
      block.scenes[1]!.lasts = { kind: "until-answer", atMostMs: builtIn("last.rt_ms") };
      block.rules = [rule({ on: "scene-begins", scene: block.scenes[1]!.id }, add(1))];
    });
    const { trials } = play(document, [...trial(0, "f", 300), ...trial(2000, "j", 200)]);
    expect(trials.map(({ scenes }) => scenes[1]?.planned)).toEqual([0, 300]);
  });

  it("that became due in a break is done as the break ends", () => {
    const document = study((block) => {
      block.breaks = { everyTrials: 1, body: plainText("Rest."), leastSeconds: 0 };
      block.rules = [
        { ...rule({ on: "part-begins" }, { do: "end-block" }), when: { on: "part-begins", afterMs: 5000 } },
      ];
    });
    const rested = (until: number) => play(document, [...trial(0, "f"), "shown 1000", `go ${until}`]);
    expect(rested(4000).state.phase.kind).toBe("trial");
    const { state, machine, records } = rested(6000);
    expect(state.phase.kind).toBe("page");
    expect(rebuild(machine, records).state).toEqual(state);
  });

  it("leaves a trial out that it ends as it begins, and counts on without it", () => {
    const { trials } = play(
      ruled(
        rule({ on: "trial-begins" }, { do: "end-trial" }, { left: builtIn("block.trials_done"), is: "=", right: 1 }),
      ),
      [...trial(0, "f")],
    );
    // Nothing counts on, so that every later trial is left out too.
    expect(trials.map(({ trial: number }) => number)).toEqual([1]);
  });

  it("shows wrong trials again at the end, marked, numbered on, and no more often than it may", () => {
    const { trials, state } = play(
      ruled(
        rule(
          { on: "trial-ends" },
          { do: "repeat-trial", most: 2 },
          { left: builtIn("last.right"), is: "≠", right: true },
        ),
      ),
      [...trial(0, "j"), ...trial(2000, "j"), ...trial(4000, "f"), ...trial(6000, "j"), ...trial(8000, "j")],
    );
    expect(trials.map(({ trial: number, showing, inAttempt }) => [number, showing ?? 1, inAttempt])).toEqual([
      [1, 1, 1],
      [2, 1, 2],
      [3, 1, 3],
      [4, 1, 4],
      [5, 2, 5],
    ]);
    expect(trials[4]?.row).toBe(trials[0]?.row);
    expect(state.phase.kind).toBe("page");
  });

  it("shows a page between two trials and comes back", () => {
    const document = study((block, copy) => {
      const page = { ...newPage((prefix) => prefix, "How to answer"), id: "how" };
      copy.parts["how"] = page;
      copy.runningOrder.push({ kind: "part", part: "how", aside: true });
      block.rules = [rule({ on: "answer", how: "wrong" }, { do: "page", page: "how" })];
    });
    const { records, state, machine } = play(document, [
      ...trial(0, "j"),
      "shown 1000",
      "go 1500",
      ...trial(2000, "j"),
    ]);
    expect(records.map(({ kind }) => kind)).toEqual(["trial", "page", "trial"]);
    expect(state.phase.kind).toBe("trial");
    expect(machine.course.plan.parts.map(({ part }) => part)).not.toContain("how");
  });

  it("ends the session with a state of its own, and goes to a later part", () => {
    const ended = play(
      ruled(
        rule({ on: "answer", how: "wrong" }, { do: "end-session", as: "screened-out", text: plainText("Thanks.") }),
      ),
      trial(0, "j"),
    );
    expect(ended.records.at(-1)).toMatchObject({ kind: "end", ended: { as: "screened-out" } });
    const later = study((block, copy) => {
      block.rules = [
        rule(
          { on: "answer", how: "wrong" },
          {
            do: "go-to-part",
            part: copy.runningOrder.at(-1)!.kind === "part" ? (copy.runningOrder.at(-1) as { part: string }).part : "",
          },
        ),
      ];
    });
    expect(play(later, trial(0, "j")).state.phase).toMatchObject({ kind: "page", part: 1 });
  });

  it("changes items for the rest of the trial, plays sounds and media, sends markers", () => {
    const document = ruled(
      rule({ on: "scene-begins", scene: undefined }, [
        { do: "item", item: "i", property: "x", to: 12 },
        { do: "sound", file: "gull", volume: 40 },
        { do: "media", item: "video", act: "pause" },
        { do: "marker", marker: "m" },
      ]),
    );
    const first = play(document, ["flip 0"]);
    expect(first.machine.context(first.state).changes).toEqual({ i: { x: 12 } });
    expect(first.commands.map(({ kind }) => kind)).toEqual([
      "prepare-trial",
      "refresh",
      "show-scene",
      "sound",
      "media",
      "marker",
    ]);
    const next = play(document, ["flip 0", "flip 500", "f 600", "flip 616"]);
    expect(next.machine.context(next.state).changes).toEqual({});
  });

  it("waits, repeats and stops", () => {
    const later = ruled(rule({ on: "scene-begins" }, { ...add(1), afterMs: 100, repeat: { everyMs: 50, times: 3 } }));
    expect(play(later, ["flip 0", "time 100", "time 150", "time 200", "time 250"]).value).toBe(3);
    const until = ruled(
      rule(
        { on: "scene-begins" },
        {
          ...add(1),
          repeat: { everyMs: 50, until: { left: { from: { variable: "v" } }, is: "≥", right: 2 } },
        },
      ),
    );
    expect(play(until, ["flip 0", "time 50", "time 100", "time 150"]).value).toBe(2);
  });

  it("draws from lists, each entry once, the same in every replay, whatever other rules draw", () => {
    const draw: Rule = { ...rule({ on: "trial-begins" }, [{ do: "draw", from: "list", what: "v" }]), id: "draw" };
    const other: Rule = {
      ...rule({ on: "trial-begins" }, set({ calculate: "random-whole", of: [1, 100] })),
      id: "other",
    };
    const drawn = (...rules: Rule[]) => {
      const { trials, state } = play(ruled(...rules), [...trial(0, "f"), ...trial(2000, "f"), ...trial(4000, "f")]);
      const of = (id: string) =>
        [...trials.flatMap(({ fired = [] }) => fired), ...state.fired].flatMap((each) =>
          each.rule === id ? [each.gave] : [],
        );
      return { draw: of("draw"), other: of("other") };
    };
    const alone = drawn(draw).draw;
    expect(new Set(alone.slice(0, 3))).toEqual(new Set(["gull", "tern", "knot"]));
    expect(alone[3]).toBeNull();
    expect(drawn(other, draw).draw).toEqual(alone);
    expect(drawn(draw, other).other).toEqual(drawn(other).other);
  });

  it("starts from what the link gave, and keeps it in every record", () => {
    const { trials } = play(ruled(rule({ on: "answer", how: "right" }, add(1))), trial(0, "f"), { v: 40 });
    expect(trials[0]?.variables).toEqual({ v: 41 });
    expect(play(ruled(), trial(0, "f")).trials[0]?.variables).toBeUndefined();
  });

  it("takes back what it did in a trial that is broken off", () => {
    const document = ruled(rule({ on: "scene-begins" }, add(1)));
    const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
    let { state } = machine.begin();
    for (const event of [
      { kind: "flip", at: 0, late: 0 },
      { kind: "break-off", at: 100, why: "focus" },
    ] as SessionEvent[])
      state = machine.next(state, event).state;
    expect(state.made.variables["v"]).toBeUndefined();
  });
});

describe("until good enough", () => {
  const repeated = (change: Partial<Block["criterion"] & object> = {}) =>
    study((block, copy) => {
      const page = { ...newPage((prefix) => prefix, "Once more"), id: "more" };
      copy.parts["more"] = page;
      copy.runningOrder.push({ kind: "part", part: "more", aside: true });
      block.criterion = { ...newCriterion, rightShare: 0.75, trials: 4, attempts: 2, before: "more", ...change };
    });
  const all = (keys: string, from = 0) => [...keys].flatMap((key, index) => trial(from + index * 2000, key));

  it("ends as soon as it is reached", () => {
    const { trials, state } = play(repeated({ trials: 2, rightShare: 1 }), all("fj"));
    expect(trials.map(({ criterion }) => criterion)).toEqual([undefined, "reached"]);
    expect(state.phase.kind).toBe("page");
  });

  it("begins again in a new order after a page, then goes on, and numbers trials on", () => {
    const { trials, records, state } = play(repeated(), [
      ...all("jjjj"),
      "shown 9000",
      "go 9100",
      ...all("jjjj", 10_000),
    ]);
    expect(records.map(({ kind }) => kind)).toEqual([
      "trial",
      "trial",
      "trial",
      "trial",
      "page",
      "trial",
      "trial",
      "trial",
      "trial",
    ]);
    expect(trials.map(({ attempt, trial: number, criterion }) => [attempt, number, criterion])).toEqual([
      [1, 1, undefined],
      [1, 2, undefined],
      [1, 3, undefined],
      [1, 4, "again"],
      [2, 5, undefined],
      [2, 6, undefined],
      [2, 7, undefined],
      [2, 8, "not-reached"],
    ]);
    expect(state.phase).toMatchObject({ kind: "page", part: 1 });
  });

  it("ends the session kindly where that is chosen", () => {
    const { records } = play(repeated({ attempts: 1, otherwise: "end" }), all("jjjj"));
    expect(records.at(-1)).toMatchObject({ kind: "end", ended: { as: "screened-out" } });
  });

  it("looks at each level by itself, and at the time", () => {
    const document = repeated({ trials: 1, rightShare: 1, each: undefined });
    const [word] = firstBlock(document).table.columns;
    firstBlock(document).criterion = { ...firstBlock(document).criterion!, each: word!.id };
    expect(play(document, all("fjfj")).trials).toHaveLength(2);
    expect(play(document, all("fffj")).trials).toHaveLength(4);
    const fast = repeated({ rightShare: undefined, medianMs: 250, trials: 2 });
    delete firstBlock(fast).criterion!.rightShare;
    expect(play(fast, [...trial(0, "f", 200), ...trial(2000, "j", 200)]).trials.at(-1)?.criterion).toBe("reached");
  });

  it("repeats a bracket with its pages and its block, whose order is drawn anew", () => {
    const document = study((block, copy) => {
      const [node, ...others] = copy.runningOrder;
      const page = { ...newPage((prefix) => prefix, "Instructions"), id: "instructions" };
      copy.parts["instructions"] = page;
      block.order = { method: "shuffled", passes: 2, limits: [] };
      copy.runningOrder = [
        {
          kind: "bracket",
          id: "bracket",
          arrange: "listed",
          until: { ...newCriterion, looked: "pass-end", over: "all", trials: 4, rightShare: 0.75, attempts: 2 },
          nodes: [{ kind: "part", part: "instructions" }, node!],
        },
        ...others,
      ];
    });
    // Nothing is answered: the trials end by their time.
    const silent = (from: number) => [
      `shown ${from}`,
      `go ${from + 10}`,
      ...[0, 1, 2, 3].flatMap((at) => [
        `flip ${from + 100 + at * 3000}`,
        `flip ${from + 600 + at * 3000}`,
        `flip ${from + 2600 + at * 3000}`,
      ]),
    ];
    const { records, trials, state } = play(document, [...silent(0), ...silent(20_000)]);
    expect(records.map(({ kind }) => kind).join(" ")).toBe("page trial trial trial trial page trial trial trial trial");
    expect(trials.map(({ attempt, trial: number }) => [attempt, number])).toEqual([
      ...[1, 2, 3, 4].map((number) => [1, number]),
      ...[5, 6, 7, 8].map((number) => [2, number]),
    ]);
    expect(state.phase).toMatchObject({ kind: "page", part: 2 });
  });
});

describe("a script", () => {
  const script = (gives: { name: string; variable: string }[]): Action => ({
    do: "script",
    code: "return {}",
    gets: [{ name: "time", value: builtIn("last.rt_ms") }],
    gives,
    limitMs: 500,
  });
  const asking = ruled(rule({ on: "answer", how: "given" }, script([{ name: "sum", variable: "v" }])));
  const gave = (number: number, values: Record<string, string | number | boolean | null>) =>
    ({ on: "outside", number, gave: values }) as const;
  /** A trial is answered; in the next one this comes. */
  const after = (document: StudyDocument, ...given: Act["happened"][]) => {
    const { machine, state } = play(document, [...trial(0, "f"), "flip 1000"]);
    let now = state;
    for (const happened of given) now = machine.next(now, { kind: "act", at: 1100, happened }).state;
    return { machine, state: now };
  };

  it("is asked once with its values, and what it gives goes into its variable when it comes", () => {
    const { state } = play(asking, trial(0, "f"));
    expect(state.outside).toMatchObject({ asked: 1, waiting: [{ number: 1, gets: { time: 300 } }] });
    const { state: now } = after(asking, gave(1, { sum: 7, other: 1 }));
    expect(now.made.variables["v"]).toBe(7);
    expect(now.outside.waiting).toEqual([]);
  });

  it("is heard once, and only what was asked", () => {
    expect(after(asking, gave(1, { sum: 7 }), gave(1, { sum: 9 })).state.made.variables["v"]).toBe(7);
    expect(after(asking, gave(5, { sum: 9 })).state.made.variables["v"]).toBeUndefined();
  });

  it("changes nothing with what the variable cannot hold, or where it gave nothing", () => {
    expect(after(asking, gave(1, { sum: "seven" })).state.made.variables["v"]).toBeUndefined();
    expect(after(asking, gave(1, {})).state.made.variables["v"]).toBeUndefined();
  });

  it("sets off what waits for its variable", () => {
    const chained = study((block, document) => {
      document.variables.push({ id: "w", name: "second", type: "number", start: 0 });
      block.rules = [
        rule({ on: "answer", how: "given" }, script([{ name: "sum", variable: "v" }])),
        rule({ on: "variable", variable: "v" }, { do: "set", what: { variable: "w" }, to: 3 }),
      ];
    });
    expect(after(chained, gave(1, { sum: 7 })).state.made.variables["w"]).toBe(3);
  });

  it("leaves or empties the variable of a service that gave no answer, and is heard of that service only", () => {
    const asked = (otherwise: "keep" | "empty") =>
      study((block, document) => {
        document.services = [{ id: "s", name: "Scores", address: "https://scores.example/" }];
        const ask: Action = {
          ...{ do: "ask", service: "s", sends: [], limitMs: 500, otherwise },
          gives: [{ name: "sum", variable: "v" }],
        };
        block.rules = [rule({ on: "answer", how: "given" }, [set(4), ask])];
      });
    const problem = { ...gave(1, {}), service: "s", problem: "No answer came within 500 ms." };
    expect(after(asked("keep"), problem).state.made.variables["v"]).toBe(4);
    expect(after(asked("empty"), problem).state.made.variables["v"]).toBeNull();
    expect(after(asked("keep"), { ...gave(1, { sum: 7 }), service: "s" }).state.made.variables["v"]).toBe(7);
    // As from a script, or another service.
    expect(after(asked("keep"), gave(1, { sum: 7 })).state.made.variables["v"]).toBe(4);
    expect(after(asked("keep"), { ...gave(1, { sum: 7 }), service: "other" }).state.made.variables["v"]).toBe(4);
  });

  it("is never run again: what it gave is in the record, also of a trial that was broken off", () => {
    const { machine, state } = after(asking, gave(1, { sum: 7 }));
    const broken = machine.next(state, { kind: "break-off", at: 1200, why: "focus" });
    expect(broken.state.made.variables["v"]).toBe(7);
    const record = broken.commands.find((command) => command.kind === "record");
    expect(record?.kind === "record" && record.record).toMatchObject({
      kind: "broken-off",
      acts: [{ happened: { on: "outside", number: 1, gave: { sum: 7 } } }],
    });
    const first = play(asking, trial(0, "f")).records;
    const again = rebuild(machine, [...first, ...(record?.kind === "record" ? [record.record] : [])]);
    expect(again.state.made.variables).toEqual(broken.state.made.variables);
    expect(again.state.outside).toEqual(broken.state.outside);
  });
});
