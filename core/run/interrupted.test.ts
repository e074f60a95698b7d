import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../compile/compile";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { sessionMachine } from "./session-machine";
import type { SessionEvent } from "./state";
import type { SessionRecord } from "../records/record";
import { rebuild } from "./replay";

/** One block of two rows, each twice, as listed: fixation 500 ms, then target until F or J. */
const study = (change: (block: Block, document: StudyDocument) => void = () => undefined): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    block.order = { method: "as-listed", passes: 2, limits: [] };
    document.runningOrder = [{ kind: "part", part: block.id }];
    change(block, document);
  });
const f = (at: number): SessionEvent => ({
  kind: "input",
  at,
  input: { device: "keys", value: "f", place: "f", act: "press" },
});
const flip = (at: number): SessionEvent => ({ kind: "flip", at, late: 0 });

function run(document: StudyDocument, events: SessionEvent[]) {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]?.id ?? ""));
  const records: SessionRecord[] = [];
  let step = machine.begin();
  for (const event of events) {
    step = machine.next(step.state, event);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
  }
  return { machine, records, step };
}
const whole = (from: number): SessionEvent[] => [flip(from), flip(from + 500), f(from + 800), flip(from + 810)];

describe("a trial that is finished although something came between", () => {
  it("says what it was, once, and goes on the same after a reload", () => {
    const { records, step } = run(study(), [
      flip(0),
      { kind: "interrupted", why: "focus" },
      flip(500),
      { kind: "interrupted", why: "full-screen" },
      f(800),
      flip(810),
      ...whole(1000),
    ]);
    expect(records.map((record) => "interrupted" in record && record.interrupted)).toEqual(["focus", false]);
    const { machine } = run(study(), []);
    expect(rebuild(machine, records)).toMatchObject({ state: step.state, unsaved: [] });
  });
});

describe("a trial that is broken off", () => {
  it("is recorded with what there was of it, counts nowhere, and comes again", () => {
    const { records, step, machine } = run(study(), [
      ...whole(0),
      flip(1000),
      f(1100),
      { kind: "break-off", at: 1200, why: "focus" },
    ]);
    expect(records.map(({ kind, number }) => [kind, number])).toEqual([
      ["trial", 1],
      ["broken-off", 2],
    ]);
    expect(records[1]).toMatchObject({ trial: 2, why: "focus", at: 1200, answers: [{ early: [{ value: "f" }] }] });
    expect(records[1]).toMatchObject({ scenes: [{ onset: 1000, end: 1200 }] });
    expect(step.commands.at(-1)).toMatchObject({ kind: "prepare-trial", trial: { trial: 2 } });
    expect(machine.context(step.state).tally).toMatchObject({ trialsDone: 1, last: { answer: "f" } });
  });

  it("is nothing before its first scene", () => {
    expect(run(study(), [...whole(0), { kind: "break-off", at: 900, why: "focus" }]).records.length).toBe(1);
  });

  it("gives back what was last before it", () => {
    const { machine, step } = run(study(), [
      ...whole(0),
      flip(1000),
      flip(1500),
      { kind: "break-off", at: 1600, why: "asked" },
    ]);
    expect(machine.context(step.state).tally.last).toMatchObject({ answer: "f", right: true });
  });
});

describe("leaving for good", () => {
  it("ends the session wherever it stands, with the trial that ran as broken off", () => {
    const { records, step, machine } = run(study(), [...whole(0), flip(1000), { kind: "withdraw", at: 1100 }]);
    expect(records.map(({ kind }) => kind)).toEqual(["trial", "broken-off", "end"]);
    expect(records.at(-1)).toEqual({ kind: "end", number: 3, at: 1100, withdrawn: true });
    expect(step.commands.at(-1)).toEqual({ kind: "finish" });
    const again = rebuild(machine, records);
    expect(again.state).toEqual(step.state);
    expect(again.unsaved).toEqual([]);
  });

  it("is not possible twice, nor after the end", () => {
    const { records } = run(study(), [
      { kind: "withdraw", at: 5 },
      { kind: "withdraw", at: 6 },
    ]);
    expect(records).toEqual([{ kind: "end", number: 1, at: 5, withdrawn: true }]);
  });
});

describe("breaks", () => {
  const breaks = { everyTrials: 2, body: [], leastSeconds: 0 };

  it("come after every so many trials but not behind the last, and keep the block's tally", () => {
    const document = study((block) => void (block.breaks = breaks));
    const { records, step, machine } = run(document, [...whole(0), ...whole(1000)]);
    expect(step.commands).toContainEqual({ kind: "show-break", part: firstBlock(document).id });
    expect(machine.context(step.state).tally.block.done).toBe(2);
    expect(records.length).toBe(2);
    const after = run(document, [
      ...whole(0),
      ...whole(1000),
      { kind: "page-shown", at: 2000 },
      { kind: "continue", at: 3000 },
      ...whole(3000),
      ...whole(4000),
    ]);
    expect(after.records.map(({ kind }) => kind)).toEqual(["trial", "trial", "break", "trial", "trial", "end"]);
    expect(after.records[2]).toMatchObject({ after: 2, shown: 2000, done: 3000 });
    expect(rebuild(after.machine, after.records.slice(0, 3)).commands).toMatchObject([
      { kind: "prepare-trial", trial: { trial: 3 } },
    ]);
  });
});

describe("what surely comes next", () => {
  it("is the next scene where nothing that is answered can change it, and open otherwise", () => {
    const document = study();
    const target = firstBlock(document).scenes[1]?.id;
    const { machine, step } = run(document, [flip(0)]);
    expect(machine.foresee(step.state)).toBe(target);
    expect(machine.foresee(run(document, [flip(0), flip(500)]).step.state)).toBeNull();
    const early = study((block) => block.answers.forEach((each) => (each.onEarly = "end-window")));
    expect(run(early, [flip(0)]).machine.foresee(run(early, [flip(0)]).step.state)).toBeNull();
  });
});

it("keeps how each scene ended", () => {
  const { records } = run(study(), [
    flip(0),
    { kind: "flip", at: 516.7, late: 1, ended: { by: "time", frames: 31, planned: 30 } },
    f(800),
    { kind: "flip", at: 816.7, late: 0, ended: { by: "answer", frames: 18, planned: 120 } },
  ]);
  expect(records[0]).toMatchObject({
    lateFrames: 1,
    scenes: [{ ended: { by: "time", frames: 31 } }, { ended: { by: "answer", frames: 18 } }],
  });
});
