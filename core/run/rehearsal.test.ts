import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compilePlanned } from "../compile/planned";
import type { StudyDocument } from "../design/document";
import type { SessionRecord } from "../records/record";
import { pointsKey } from "../records/rule-bounds";
import { exampleDevice } from "../values/device";
import { Follower } from "./follower";
import { Onlooker } from "./onlooker";
import { sessionMachine } from "./session-machine";
import type { Beginning, SessionEvent } from "./state";

/** A page and a block, each trial of it a fixation and a target until F or J, with a variable and points. */
const study = (change: (document: StudyDocument) => void = () => undefined) =>
  withBlock(plainStudy(), (block, document) => {
    block.order.method = "as-listed";
    block.order.passes = 3;
    document.variables = [
      { id: "level", name: "level", type: "number", start: 1 },
      { id: "mood", name: "mood", type: "text", start: null },
    ];
    change(document);
  });

const byOf = (document: StudyDocument, begins: Beginning) => {
  const { participant, group, orders, seed, entered } = compilePlanned(document, 1);
  return { participant, group, orders, seed, entered, begins };
};

/** Plays until so many records are made: pages are continued, each trial is answered by F after 300 ms. */
function play(document: StudyDocument, begins: Beginning, until = Infinity, during: SessionEvent[] = []) {
  const machine = sessionMachine(document, compilePlanned(document, 1), begins);
  let step = machine.begin();
  const records: SessionRecord[] = [];
  let now = 0;
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    for (const command of step.commands) if (command.kind === "record") records.push(command.record);
  };
  while (step.state.phase.kind !== "done" && records.length < until) {
    const { phase } = step.state;
    now += 400;
    if (phase.kind === "page" && phase.shown === null) {
      send({ kind: "page-shown", at: now });
      during.forEach(send);
    } else if (phase.kind === "page") send({ kind: "continue", at: now });
    else if (phase.kind === "trial") {
      send({ kind: "flip", at: now, late: 0 });
      if (phase.scene < 0) during.forEach(send);
      if (phase.scene >= 0)
        send({ kind: "input", at: now + 300, input: { device: "keys", value: "f", place: "f", act: "press" } });
    }
  }
  return { records, state: step.state, context: machine.context(step.state) };
}
const places = (records: readonly SessionRecord[]) =>
  records.flatMap((record): (string | number)[] =>
    "trial" in record ? [record.trial] : "part" in record ? [record.part] : [],
  );

describe("a rehearsal", () => {
  it("begins with the trial of the block it is asked to, which has its own number, and goes on to the end", () => {
    const document = study();
    const { id } = firstBlock(document);
    const whole = play(document, {}).records;
    const { records } = play(document, { rehearsal: { from: { part: id, trial: 3 } } });
    const rest = places(whole).slice(places(whole).indexOf(3));
    expect(rest.length).toBeGreaterThan(2);
    expect(places(records)).toEqual(rest);
    const [first] = records;
    expect(first?.kind === "trial" && first.row).toBe(
      whole.flatMap((record) => (record.kind === "trial" && record.trial === 3 ? [record.row] : []))[0],
    );
  });

  it("begins with the last trial where the block has not so many, and at the start where there is no such part", () => {
    const document = study();
    const { id, table } = firstBlock(document);
    const last = 3 * table.rows.length;
    expect(places(play(document, { rehearsal: { from: { part: id, trial: 999 } } }).records)[0]).toBe(last);
    expect(places(play(document, { rehearsal: { from: { part: "gone", trial: 1 } } }).records)).toEqual(
      places(play(document, {}).records),
    );
  });

  it("begins with a part whose condition does not hold, and asks it of the others", () => {
    const document = study((draft) => {
      for (const node of draft.runningOrder)
        if (node.kind === "part") node.when = { left: { from: { variable: "level" } }, is: ">", right: 5 };
    });
    const { id } = firstBlock(document);
    expect(places(play(document, {}).records)).toEqual([]);
    const { records } = play(document, { rehearsal: { from: { part: id, trial: 2 } } });
    expect(records.flatMap((record) => ("part" in record ? [record.part] : []))).toEqual(
      records.slice(0, -1).map(() => id),
    );
  });

  it("has values that were set before it, and points", () => {
    const document = study();
    const { context } = play(document, { given: { level: 7, [pointsKey]: 12 }, rehearsal: {} }, 1);
    expect([context.variables, context.session.points]).toEqual([{ level: 7 }, 12]);
  });

  it("takes what is set by hand, tells rules of it, and is judged and looked at as it was played", () => {
    const document = study((draft) => {
      draft.rules = [
        {
          id: "heard",
          name: "",
          when: { on: "variable", variable: "level" },
          do: [{ do: "add", what: { points: true }, to: 5 }],
        },
      ];
    });
    const begins: Beginning = { rehearsal: { from: { part: firstBlock(document).id, trial: 2 } } };
    const { records, context } = play(document, begins, 2, [
      { kind: "act", at: 1000, happened: { on: "by-hand", variable: "level", value: 4 } },
      { kind: "act", at: 1001, happened: { on: "by-hand", variable: "mood", value: 3 } },
      { kind: "act", at: 1002, happened: { on: "by-hand", variable: "unknown", value: 3 } },
    ]);
    expect(context.variables).toEqual({ level: 4 });
    expect(context.session.points).toBe(10);
    const follower = new Follower(document, byOf(document, begins));
    expect(records.map((record) => follower.take(record))).toEqual([null, null]);
    const onlooker = new Onlooker(document, byOf(document, begins));
    records.forEach((record) => onlooker.see(record));
    expect(onlooker.tell().values).toContainEqual({ name: "level", value: "4" });
  });

  it("alone does: what a participant's player says was set by hand is not believed", () => {
    const document = study();
    const { records } = play(document, { rehearsal: {} }, 1, [
      { kind: "act", at: 500, happened: { on: "by-hand", variable: "level", value: 4 } },
    ]);
    expect(records[0]?.variables).toEqual({ level: 4 });
    expect(play(document, {}, 1, []).records[0]?.variables).toBeUndefined();
    expect(new Follower(document, byOf(document, {})).take(records[0]!)).toBe("its rules did otherwise");
  });
});

describe("the device on which a session begins", () => {
  const read = (begins: Beginning) => {
    const document = study();
    const machine = sessionMachine(document, compilePlanned(document, 1), begins);
    return machine.context(machine.begin().state).device;
  };
  it("is what was told of it, and nothing where nothing was", () => {
    expect(read({ device: { ...exampleDevice, touch: true } })?.touch).toBe(true);
    expect(read({})).toBeNull();
  });
});
