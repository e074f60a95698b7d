import { describe, expect, it } from "vitest";
import { plainModel, simulateSession } from "../simulate/participant";
import { seedOf } from "../order/seed";
import { valueOf } from "../values/resolve";
import { newPage } from "../design/page";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../compile/compile";
import type { Block } from "../design/block";
import { emptyTally } from "../values/tally";
import type { StudyDocument } from "../design/document";
import { sessionMachine } from "./session-machine";
import type { Command, SessionEvent } from "./state";
import type { Input } from "../devices/input";
import type { TrialRecord } from "../records/record";

/** One block only, rows as listed: fixation 500 ms, then target until F or J, at most 2000 ms. Row 1 wants F, row 2 J. */
const study = (change: (block: Block, document: StudyDocument) => void = () => undefined): StudyDocument =>
  withBlock(plainStudy(), (block, document) => {
    block.order.method = "as-listed";
    document.runningOrder = [{ kind: "part", part: block.id }];
    change(block, document);
  });

const key = (value: string): Input => ({ device: "keys", value, place: value, act: "press" });

/** Plays events through the machine; flips and answers are written as `flip 100`, `f 512.3`. */
function play(document: StudyDocument, ...lines: string[]) {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
  let step = machine.begin();
  const commands: Command[] = [...step.commands];
  for (const line of lines) {
    const [what = "", at = "0"] = line.split(" ");
    const event: SessionEvent =
      what === "flip" ? { kind: "flip", at: Number(at), late: 0 } : { kind: "input", at: Number(at), input: key(what) };
    step = machine.next(step.state, event);
    commands.push(...step.commands);
  }
  const records = commands.flatMap((command) =>
    command.kind === "record" && command.record.kind === "trial" ? [command.record] : [],
  );
  return { commands, records, state: step.state, context: machine.context(step.state) };
}
const first = (records: TrialRecord[]): TrialRecord => {
  if (!records[0]) throw new Error("no record");
  return records[0];
};

describe("a trial", () => {
  it("records onsets, ends and the reaction time from the onset that opened the window", () => {
    const { records } = play(study(), "flip 100", "flip 600", "f 1012.3", "flip 1016.7");
    expect(first(records)).toMatchObject({
      number: 1,
      trial: 1,
      answers: [{ outcome: "right", right: true, given: { value: "f", rt: 412.29999999999995 } }],
      scenes: [
        { onset: 100, end: 600, planned: 500 },
        { onset: 600, end: 1016.7, planned: 2000 },
      ],
    });
  });

  it("knows a wrong answer", () => {
    expect(first(play(study(), "flip 0", "flip 500", "j 900", "flip 910").records)).toMatchObject({
      answers: [{ outcome: "wrong", right: false }],
    });
  });

  it("knows no answer, which is empty and not zero", () => {
    expect(first(play(study(), "flip 0", "flip 500", "flip 2500").records)).toMatchObject({
      answers: [{ outcome: "none", given: null, right: null }],
    });
  });

  it("takes no key before the window opens, and none that is not allowed", () => {
    const { records } = play(study(), "flip 0", "f 300", "flip 500", "x 700", "j 900", "flip 910");
    expect(first(records).answers[0]?.given).toMatchObject({ value: "j", rt: 400 });
  });

  it("counts the first answer only", () => {
    expect(
      first(play(study(), "flip 0", "flip 500", "j 900", "f 905", "flip 910").records).answers[0]?.given?.value,
    ).toBe("j");
  });

  it("asks for the next frame when an answer moves on, and not when it stays", () => {
    const asks = (document: StudyDocument) =>
      play(document, "flip 0", "flip 500", "f 800").commands.some(({ kind }) => kind === "flip-now");
    expect(asks(study())).toBe(true);
    expect(asks(study((block) => (block.answers[0]!.onAnswer = "stay")))).toBe(false);
  });

  const withMud = (onAnswer: "move-on" | "stay" = "move-on") =>
    study((block) => {
      const [, target] = block.scenes;
      target!.lasts = { kind: "ms", ms: 150 };
      block.scenes.push(
        { id: "mud", name: "mud", lasts: { kind: "until-answer", atMostMs: 1000 }, items: [] },
        { id: "word", name: "word", lasts: { kind: "ms", ms: 300 }, items: [] },
      );
      block.answers[0] = { ...block.answers[0]!, closesWith: "mud", onAnswer };
    });

  it("keeps the window open over several scenes and counts from the first", () => {
    const { records } = play(withMud(), "flip 0", "flip 500", "flip 650", "f 1000", "flip 1010", "flip 1310");
    expect(first(records)).toMatchObject({
      answers: [{ given: { rt: 500 } }],
      scenes: [{}, { end: 650 }, { end: 1010 }, { scene: "word", onset: 1010, end: 1310 }],
    });
  });

  it("leaves out what remains of the window after an early answer", () => {
    const { records } = play(withMud(), "flip 0", "flip 500", "f 600", "flip 605", "flip 905");
    expect(first(records).scenes.map(({ scene }) => scene)).toEqual([
      ...firstBlock(withMud())
        .scenes.slice(0, 2)
        .map(({ id }) => id),
      "word",
    ]);
  });

  it("calls an answer after the window too late, and keeps when it came", () => {
    const { records } = play(withMud(), "flip 0", "flip 500", "flip 650", "flip 1650", "f 1800", "flip 1950");
    expect(first(records)).toMatchObject({
      answers: [{ outcome: "too late", given: null, right: null, tooLate: { value: "f", rt: 1300 } }],
    });
  });

  it("goes by an answer's own time: one stamped before the window closed counts although the flip was told first", () => {
    const { records } = play(withMud(), "flip 0", "flip 500", "flip 650", "flip 1650", "f 1649", "flip 1950");
    expect(first(records)).toMatchObject({ answers: [{ outcome: "right", given: { rt: 1149 } }] });
  });

  it("shows a scene only when its condition holds, after this trial's own answer", () => {
    const document = (right: string) => {
      const made = withMud();
      firstBlock(made).scenes[3]!.when = { left: { from: { builtIn: "last.outcome" } }, is: "=", right };
      return made;
    };
    const shown = (outcome: string) =>
      first(play(document(outcome), "flip 0", "flip 500", "flip 650", "f 900", "flip 910", "flip 1210").records).scenes
        .length;
    expect(shown("right")).toBe(4);
    expect(shown("wrong")).toBe(3);
  });

  it("shows a scene in practice only, where practice and main block share the trial", () => {
    const shown = (isPractice: boolean) =>
      first(
        play(
          study((block) => {
            block.practice = isPractice;
            const when = { left: { from: { builtIn: "block.practice" as const } }, is: "=" as const, right: true };
            block.scenes.push({ ...block.scenes[0]!, id: "told", name: "told", lasts: { kind: "ms", ms: 100 }, when });
          }),
          ...["flip 0", "flip 500", "f 900", "flip 910", "flip 1010"],
        ).records,
      ).scenes.map(({ scene }) => scene);
    expect(shown(true)).toContain("told");
    expect(shown(false)).not.toContain("told");
  });

  it("draws what is last anew when its window opens, so that nothing of the trial before is shown in it", () => {
    const twice = play(study(), "flip 0", "flip 500", "f 900", "flip 910", "flip 1000", "flip 1500");
    expect(twice.commands.slice(-2).map(({ kind }) => kind)).toEqual(["refresh", "show-scene"]);
    expect(twice.context.tally.last).toEqual({ answer: null, right: null, rt: null, outcome: "none" });
  });

  it("plans the scene that opens a window by what was last before this trial", () => {
    const { commands } = play(
      study((block) => {
        block.scenes[1]!.lasts = { kind: "until-answer", atMostMs: { from: { builtIn: "last.rt_ms" } } };
      }),
      ...["flip 0", "flip 500", "f 900", "flip 910", "flip 1000", "flip 1500"],
    );
    expect(commands.flatMap((command) => (command.kind === "show-scene" ? [command.planned] : []))).toEqual([
      ...[500, 0, 500, 400],
    ]);
  });

  it("adds up late frames", () => {
    const document = study();
    const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
    let { state } = machine.begin();
    const records: TrialRecord[] = [];
    for (const [at, late] of [
      [0, 0],
      [517, 1],
      [2534, 2],
    ] as const) {
      const step = machine.next(state, { kind: "flip", at, late });
      state = step.state;
      for (const command of step.commands)
        if (command.kind === "record" && command.record.kind === "trial") records.push(command.record);
    }
    expect(first(records).lateFrames).toBe(3);
  });
});

describe("a session", () => {
  it("ends with an end record behind the last trial, then asks to finish", () => {
    const { commands } = play(
      study(),
      "flip 0",
      "flip 500",
      "f 900",
      "flip 910",
      "flip 1000",
      "flip 1500",
      "j 1800",
      "flip 1810",
    );
    const kinds = commands.map((command) =>
      command.kind === "record" ? `${command.record.kind} ${command.record.number}` : command.kind,
    );
    expect(kinds.slice(-3)).toEqual(["trial 2", "end 3", "finish"]);
  });

  it("keeps running accuracy and mean time of the block, and forgets them in the next", () => {
    const document = study((block, whole) => {
      whole.parts["again"] = { ...structuredClone(block), id: "again", name: "Again" };
      whole.runningOrder.push({ kind: "part", part: "again" });
    });
    const afterOne = play(document, "flip 0", "flip 500", "f 900", "flip 910");
    expect(afterOne.context.tally.block).toMatchObject({ done: 1, scored: 1, right: 1, rtSum: 400, rtCount: 1 });
    const inNext = play(
      document,
      "flip 0",
      "flip 500",
      "f 900",
      "flip 910",
      "flip 1000",
      "flip 1500",
      "f 1800",
      "flip 1810",
    );
    expect(inNext.context.tally).toMatchObject({
      trialsDone: 2,
      block: { done: 0, right: 0 },
      last: { outcome: "wrong" },
    });
  });

  describe("counts the present trial", () => {
    const told = study((block) => {
      const score = { from: { builtIn: "block.accuracy" as const } };
      const last = { ...block.scenes[0]!, lasts: { kind: "ms" as const, ms: 600 } };
      block.scenes.push(
        { ...last, id: "told", name: "told", items: [] },
        { ...last, id: "warned", name: "warned", items: [], when: { left: score, is: "<", right: 1 } },
      );
    });
    const tallyAfter = (...lines: string[]) => play(told, "flip 0", "flip 500", ...lines).context.tally;
    const shown = (...lines: string[]) =>
      play(told, "flip 0", "flip 500", ...lines).commands.flatMap((command) =>
        command.kind === "show-scene" ? [command.scene] : command.kind === "refresh" ? ["refresh"] : [],
      );

    it("from its answer on, for the feedback within it", () => {
      expect(tallyAfter()).toMatchObject({ trialsDone: 0, block: { done: 0, scored: 0 } });
      const right = {
        trialsDone: 1,
        session: { scored: 1, right: 1 },
        block: { done: 1, scored: 1, right: 1, rtSum: 400 },
      };
      expect(tallyAfter("f 900")).toMatchObject(right);
      expect(tallyAfter("f 900", "flip 910")).toMatchObject(right);
      expect(tallyAfter("j 900", "flip 910")).toMatchObject({ block: { done: 1, scored: 1, right: 0 } });
    });
    it("from the closing of its window on where nothing was answered", () => {
      expect(tallyAfter("flip 2500")).toMatchObject({
        block: { done: 1, scored: 1, right: 0 },
        last: { outcome: "none" },
      });
      expect(shown("flip 2500").slice(-2)).toEqual(["refresh", "told"]);
    });
    it("in the conditions of the scenes that follow", () => {
      expect(shown("j 900", "flip 910", "flip 1510").at(-1)).toBe("warned");
      expect(play(told, "flip 0", "flip 500", "f 900", "flip 910", "flip 1510").records).toHaveLength(1);
    });
    it("once, also in the next trial, and nowhere when it is broken off", () => {
      expect(tallyAfter("f 900", "flip 910", "flip 1510", "flip 1600")).toMatchObject({
        trialsDone: 1,
        block: { done: 1, right: 1 },
      });
      const machine = sessionMachine(told, compile(told, 1, "s", told.groups[0]!.id));
      const { state } = play(told, "flip 0", "flip 500", "f 900", "flip 910");
      const broken = machine.next(state, { kind: "break-off", at: 1000, why: "focus" });
      expect(machine.context(broken.state).tally).toEqual(emptyTally);
    });
  });

  it("leaves its state as it is on events that do not fit", () => {
    const document = plainStudy();
    const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
    const { state } = machine.begin();
    expect(machine.next(state, { kind: "input", at: 5, input: key("f") })).toEqual({ state, commands: [] });
    expect(machine.next(state, { kind: "continue", at: 5 }).state).toBe(state);
  });
});

describe("parts on a condition", () => {
  const withExtra = (is: "≥" | "<", right: number) => {
    const copy = structuredClone(plainStudy());
    const extra = { ...newPage((prefix) => `${prefix}-extra`, "Once more"), id: "extra" };
    copy.parts["extra"] = extra;
    copy.runningOrder.splice(-1, 0, {
      kind: "part",
      part: "extra",
      when: { left: { from: { builtIn: "block.accuracy" } }, is, right },
    });
    return copy;
  };
  const pages = (document: ReturnType<typeof plainStudy>) =>
    simulateSession(document, 1, { group: document.groups[0]!.id, orders: {} }, "s", {
      ...plainModel,
      errors: 0,
      lapses: 0,
    }).records.flatMap((record) => (record.kind === "page" ? [record.part] : []));

  it("are played where it holds when the session comes to them, and passed over where not", () => {
    expect(pages(withExtra("≥", 0.8))).toContain("extra");
    expect(pages(withExtra("<", 0.8))).not.toContain("extra");
    expect(pages(withExtra("<", 0.8))).toHaveLength(2);
  });
});

it("knows which sitting it is, in rules and texts", () => {
  const document = study();
  const told = [1, 2, 11].map((sitting) => {
    const plan = compile(document, 1, seedOf(document, sitting), document.groups[0]!.id);
    const machine = sessionMachine(document, plan);
    return valueOf({ builtIn: "session.sitting" }, machine.context(machine.begin().state));
  });
  expect(told).toEqual([1, 2, 11]);
});
