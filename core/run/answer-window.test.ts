import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../compile/compile";
import { newItem } from "../items/item";
import { newKeys, placeOfKey } from "../devices/keys/keys";
import type { AnswerDevice } from "../devices/registry";
import type { AnswerSpec } from "../design/answer";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { possibleInputs } from "../devices/device";
import { sessionMachine } from "./session-machine";
import type { Command, SessionEvent } from "./state";
import { presentRecord } from "../records/stored";
import type { Input } from "../devices/input";
import type { TrialRecord } from "../records/record";
import { matches } from "./scoring";
import { itemsIn } from "../design/lookup";
import { contextFor } from "../values/context";

/** One trial: look 500 ms, choose 1000 ms, rate until 3000 ms, told 500 ms. */
const study = (...answers: (Partial<AnswerSpec> & Pick<AnswerSpec, "id">)[]): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    document.runningOrder = [{ kind: "part", part: block.id }];
    block.table.rows = block.table.rows.slice(0, 1);
    const [original] = block.answers;
    const scene = (id: string, ms: number) => ({ id, name: id, lasts: { kind: "ms" as const, ms }, items: [] });
    block.scenes = [scene("look", 500), scene("choose", 1000), scene("rate", 3000), scene("told", 500)];
    block.answers = answers.map((answer) => ({
      ...original!,
      name: answer.id,
      opensWith: "choose",
      closesWith: "choose",
      right: "f",
      ...answer,
    }));
  });
const key = (value: string, act: Input["act"] = "press", heldMs = 0): Input => ({
  device: "keys",
  value,
  place: value,
  act,
  heldMs,
});

function play(document: StudyDocument, ...events: (number | [number, Input])[]) {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
  let step = machine.begin();
  const commands: Command[] = [...step.commands];
  const last: unknown[] = [];
  for (const each of events) {
    const event: SessionEvent =
      typeof each === "number" ? { kind: "flip", at: each, late: 0 } : { kind: "input", at: each[0], input: each[1] };
    step = machine.next(step.state, event);
    commands.push(...step.commands);
    last.push(machine.context(step.state).tally.last.outcome);
  }
  const record = commands.flatMap((command) =>
    command.kind === "record" && command.record.kind === "trial" ? [command.record] : [],
  )[0] as TrialRecord;
  return { record, commands, last, context: machine.context(step.state) };
}
const of = (record: TrialRecord, id: string) => record.answers.find(({ answer }) => answer === id)!;

describe("several answers in a trial", () => {
  const choice = { id: "choice", by: [newKeys(["f", "j"])] };
  const rating = {
    id: "rating",
    by: [newKeys(["1", "2", "3"])],
    opensWith: "rate",
    closesWith: "rate",
    right: undefined,
  };

  it("have each their own window and reaction time", () => {
    const { record } = play(study(choice, rating), 0, 500, [900, key("f")], 910, [1400, key("2")], 1410, 1910);
    expect(of(record, "choice")).toMatchObject({ outcome: "right", given: { value: "f", rt: 400 } });
    expect(of(record, "rating")).toMatchObject({ outcome: "answered", given: { value: "2", rt: 490 } });
    expect(record.scenes.map(({ scene }) => scene)).toEqual(["look", "choose", "rate", "told"]);
  });

  it("can count from the onset of another scene than the one that opens the window", () => {
    const { record } = play(study({ ...choice, countsFrom: "look" }), 100, 600, [1000, key("f")], 1010, 1020, 1030);
    expect(of(record, "choice").given?.rt).toBe(900);
  });

  it("open together: the scene stays until all that move on are given", () => {
    const both = study(choice, { ...rating, opensWith: "choose", closesWith: "choose" });
    const { commands, record } = play(both, 0, 500, [700, key("f")], [800, key("3")], 810, 3810, 4310);
    expect(commands.filter(({ kind }) => kind === "flip-now")).toHaveLength(1);
    expect(record.scenes[1]).toMatchObject({ onset: 500, end: 810 });
    expect(record.answers.map(({ given }) => given?.rt)).toEqual([200, 300]);
  });

  it("tell feedback of the one that can be right, not of a rating given after it", () => {
    const { last } = play(study(choice, rating), 0, 500, [900, key("j")], 910, [1400, key("2")], 1410);
    expect(last.at(-1)).toBe("wrong");
  });

  it("make a trial right when all that can be right are", () => {
    const second = { id: "second", by: [newKeys(["k", "l"])], opensWith: "rate", closesWith: "rate", right: "k" };
    const tally = (answer: string) =>
      play(study(choice, second), 0, 500, [900, key("f")], 910, [1400, key(answer)], 1410, 1910).context.tally;
    expect([tally("k").session, tally("l").session]).toEqual([
      { scored: 1, right: 1 },
      { scored: 1, right: 0 },
    ]);
  });
});

describe("answers outside the window", () => {
  const choice = { id: "choice", by: [newKeys(["f", "j"])] };

  it("before it are recorded as anticipations, and the window still takes one", () => {
    const { record, last } = play(study(choice), 0, [300, key("j")], 500, [900, key("f")], 910, 920, 930);
    expect(of(record, "choice")).toMatchObject({
      outcome: "right",
      given: { rt: 400 },
      early: [{ value: "j", at: 300 }],
    });
    expect(last[1]).toBe("too early");
  });

  it("before it can end the window: the rest of it is left out and what follows is shown", () => {
    const { record, commands } = play(study({ ...choice, onEarly: "end-window" }), 0, [300, key("j")], 310, 3310, 3810);
    expect(of(record, "choice")).toMatchObject({ outcome: "too early", given: null, early: [{ value: "j" }] });
    expect(record.scenes.map(({ scene }) => scene)).toEqual(["look", "rate", "told"]);
    expect(commands.some(({ kind }) => kind === "flip-now")).toBe(true);
  });

  it("count the last where the last counts, and keep those before", () => {
    const last = study({ ...choice, counts: "last", onAnswer: "stay" });
    const { record, commands } = play(last, 0, 500, [700, key("j")], [900, key("f")], 1500, 4500, 5000);
    expect(of(record, "choice")).toMatchObject({
      outcome: "right",
      given: { value: "f", rt: 400 },
      revised: [{ value: "j", rt: 200 }],
    });
    expect(commands.some(({ kind }) => kind === "flip-now")).toBe(false);
  });
});

describe("ways to answer", () => {
  const given = (by: AnswerDevice[], ...inputs: Input[]) => {
    const document = study({ id: "a", by, right: undefined });
    const events = inputs.map((input, index): [number, Input] => [600 + index, input]);
    return of(play(document, 0, 500, ...events, 1500, 4500, 5000).record, "a").given?.value ?? null;
  };

  it("take keys by letter or by place, pressed, let go or held long enough", () => {
    const z: Input = { device: "keys", value: "y", place: "z", act: "press" };
    expect(given([newKeys(["y"])], z)).toBe("y");
    expect(given([{ ...newKeys(["z"]), by: "place" }], z)).toBe("z");
    expect(given([newKeys(["z"])], z)).toBe(null);
    expect(given([{ ...newKeys(["f"]), act: "release" }], key("f"), key("f", "release"))).toBe("f");
    const hold = { ...newKeys(["f"]), act: "hold" as const, holdMs: 300 };
    expect([given([hold], key("f", "hold", 200)), given([hold], key("f", "hold", 300))]).toEqual([null, "f"]);
    expect([placeOfKey("KeyZ"), placeOfKey("Digit4"), placeOfKey("Space")]).toEqual(["z", "4", "Space"]);
  });

  it("take items and regions by the value they stand for, or by their name", () => {
    const by: AnswerDevice[] = [
      {
        device: "pointer",
        targets: [
          { item: "near", value: "n" },
          { item: "far", value: null },
          { region: "left", at: { x: -40, y: 0 }, size: { w: 20, h: 20 }, value: 1 },
        ],
      },
    ];
    const click = (on: string, value: string): Input => ({ device: "pointer", on, value, by: "mouse" });
    expect([
      given(by, click("near", "x")),
      given(by, click("far", "far bird")),
      given(by, click("left", "left")),
    ]).toEqual(["n", "far bird", "1"]);
    expect(given(by, click("other", "x"))).toBe(null);
  });

  it("take what is typed, set or sent on their own item only", () => {
    for (const device of ["typed", "slider", "web"] as const) {
      const by = [{ device, item: "here", confirm: null }] as AnswerDevice[];
      expect([given(by, { device, on: "here", value: "42" }), given(by, { device, on: "there", value: "42" })]).toEqual(
        ["42", null],
      );
    }
  });

  it("list every input a slider or an array takes", () => {
    const document = study({ id: "a", by: [] });
    const block: Block = firstBlock(document);
    block.scenes[1]!.items = [
      { ...newItem(() => "s", "slider", "how sure"), from: 0, to: 1, step: 0.25 } as never,
      newItem(() => "arr", "array", "boats"),
    ];
    const context = contextFor({ study: document, group: "", participant: 1 });
    const values = (by: AnswerDevice[]) =>
      possibleInputs({ ...block.answers[0]!, by }, context, itemsIn(block))?.map(({ value }) => value) ?? null;
    expect(values([{ device: "slider", item: "s", confirm: null }])).toEqual(["0", "0.25", "0.5", "0.75", "1"]);
    expect(values([{ device: "pointer", targets: [{ item: "arr", value: null }] }])).toEqual(["target", "other"]);
    expect(values([{ device: "typed", item: "e", confirm: null }])).toBe(null);
  });

  it.each<[AnswerSpec["match"], string, string, number | undefined, boolean]>([
    ["exact", "Gull", "gull", undefined, false],
    ["ignore-case", " Gull ", "gull", undefined, true],
    ["number", "3,5", "3.5", undefined, true],
    ["number", "3.6", "3.5", 0.1, true],
    ["number", "3.7", "3.5", 0.1, false],
    ["number", "gull", "3.5", 1, false],
    ["one-of", "tern", "gull; Tern", undefined, true],
    ["one-of", "knot", "gull; tern", undefined, false],
  ])("compare (%s) %s with %s, tolerance %s: %s", (match, value, wanted, tolerance, result) => {
    const spec = { ...firstBlock(plainStudy()).answers[0]!, match, tolerance };
    expect(matches(spec, value, wanted, "typed")).toBe(result);
  });
});

it("records of the first form are read in the present one", () => {
  const document = plainStudy();
  const block = firstBlock(document);
  const old = {
    kind: "trial",
    number: 2,
    part: block.id,
    trial: 1,
    pass: 1,
    row: block.table.rows[0]!.id,
    scenes: [],
    answer: { value: "f", at: 900, rt: 400, scenesShown: 2 },
    tooLate: null,
    right: true,
    outcome: "right",
    lateFrames: 0,
  };
  expect(presentRecord(old, document)).toMatchObject({
    answers: [
      { answer: block.answers[0]!.id, right: true, outcome: "right", given: { value: "f", rt: 400, order: 1 } },
    ],
    observed: [],
    placed: {},
  });
  const present = play(study({ id: "a" }), 0, 500, [700, key("f")], 710, 720, 730).record;
  expect(presentRecord(present, document)).toBe(present);
});
