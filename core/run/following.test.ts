import { describe, expect, it } from "vitest";
import { plainStaircase } from "~/tests/support/staircase";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import type { Staircase } from "../adaptive/staircase/spec";
import { compile } from "../compile/compile";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { Again } from "../design/trial-order";
import type { SessionRecord, TrialRecord } from "../records/record";
import { Follower } from "./follower";
import { rebuild } from "./replay";
import { sessionMachine } from "./session-machine";
import type { SessionEvent } from "./state";

/** A block of the rows F and J, as listed, twenty times; a page before it is left out. */
function study(change: (block: Block, document: StudyDocument) => void): StudyDocument {
  return withBlock(plainStudy(), (block, document) => {
    block.order = { method: "as-listed", passes: 20, limits: [] };
    document.runningOrder = document.runningOrder.slice(1);
    document.parts = Object.fromEntries(
      document.runningOrder.flatMap((node) => (node.kind === "part" ? [[node.part, document.parts[node.part]!]] : [])),
    );
    block.table.columns.push({
      id: "level",
      name: "level",
      type: "number",
      factor: false,
      follows: { by: plainStaircase },
    });
    change(block, document);
  });
}
const following = (change: Partial<Staircase>, more: object = {}) =>
  study((block) => (block.table.columns.at(-1)!.follows = { by: { ...plainStaircase, ...change }, ...more }));

/** Plays trials as a line tells: + right, - wrong, 0 missed, x broken off, i right though something came between. */
function play(document: StudyDocument, line: string) {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]!.id));
  const records: SessionRecord[] = [];
  const prepared: unknown[] = [];
  let step = machine.begin();
  let clock = 0;
  const hear = () =>
    step.commands.forEach((command) => {
      if (command.kind === "record") records.push(command.record);
      if (command.kind === "prepare-trial") prepared.push(command.trial.values["level"]);
    });
  hear();
  const send = (event: SessionEvent) => {
    step = machine.next(step.state, event);
    hear();
  };
  for (const each of line) {
    const { phase } = step.state;
    if (phase.kind !== "trial") break;
    const row = firstBlock(document).table.rows.find(({ id }) => id === phase.planned.row);
    const right = String(row?.cells[firstBlock(document).table.columns[1]!.id]);
    const value = each === "-" ? (right === "f" ? "j" : "f") : right;
    send({ kind: "flip", at: (clock += 500), late: 0 });
    if (each === "i") send({ kind: "interrupted", why: "focus" });
    send({ kind: "flip", at: (clock += 500), late: 0 });
    if (each === "x") {
      send({ kind: "break-off", at: (clock += 10), why: "focus" });
      continue;
    }
    if (each !== "0") send({ kind: "input", at: (clock += 300), input: { device: "keys", value, act: "press" } });
    send({ kind: "flip", at: (clock += 100), late: 0 });
  }
  const trials = records.filter((record): record is TrialRecord => record.kind === "trial");
  return {
    machine,
    records,
    trials,
    prepared,
    state: step.state,
    shown: trials.map(({ settled }) => settled?.["level"]),
  };
}

describe("a column that follows the answers", () => {
  it("gives each trial its value before it is prepared, and the record keeps it", () => {
    const { prepared, shown } = play(following({}), "++-+");
    expect(prepared).toEqual([50, 40, 30, 40, 30]);
    expect(shown).toEqual([50, 40, 30, 40]);
  });

  it("is moved by no trial that was missed, broken off or interrupted", () => {
    expect(play(following({}), "+0+").prepared).toEqual([50, 40, 40, 30]);
    expect(play(following({}), "+x+").prepared).toEqual([50, 40, 40, 30]);
    expect(play(following({}), "+i+").prepared).toEqual([50, 40, 40, 30]);
  });

  it("is followed by itself for each level of another column", () => {
    const document = following({}, { each: firstBlock(plainStudy()).table.columns[0]!.id });
    // Rows take turns: right, wrong, right, wrong.
    expect(play(document, "+-+-").prepared).toEqual([50, 50, 40, 60, 30]);
  });

  it("ends the block when enough was asked, and leaves out what one level no longer needs", () => {
    const { trials, state } = play(following({ endReversals: 3 }), "+-+-+-+-");
    expect(trials).toHaveLength(4);
    expect(state.phase.kind).toBe("page");
    const each = firstBlock(plainStudy()).table.columns[0]!.id;
    // F turns with each answer and is done first; J goes on and on.
    const apart = play(following({ endReversals: 2 }, { each }), `${"++-+++"}${"+".repeat(40)}`);
    const [first] = firstBlock(plainStudy()).table.rows;
    expect(apart.trials.filter(({ row }) => row === first!.id)).toHaveLength(3);
    expect(apart.trials.length).toBe(23);
    expect(apart.trials.map(({ trial }) => trial)).toEqual(apart.trials.map((_, index) => index + 1));
  });

  it("leaves its threshold in a variable when the block is over", () => {
    const document = following({ endTrials: 12 }, { keeps: "found" });
    document.variables = [{ id: "found", name: "threshold_level", type: "number", start: 0 }];
    const { state } = play(document, "++-+-+-+-+-+-");
    expect(state.phase.kind).toBe("page");
    const found = Number(state.made.variables["found"]);
    expect(found).toBeGreaterThan(20);
    expect(found).toBeLessThan(60);
  });

  it("is taken from the record where a session is taken up again", () => {
    const { machine, records, state } = play(following({}), "++-+");
    expect(rebuild(machine, records).state).toEqual(state);
    // Another computer had settled on another value: it stands, and what follows goes on from there.
    const changed = structuredClone(records);
    (changed[3] as TrialRecord).settled = { level: 44 };
    const again = rebuild(machine, changed).state.phase;
    expect(again.kind === "trial" && again.planned.values["level"]).toBe(34);
  });

  it("is believed only within what could be shown", () => {
    const document = following({});
    const { records } = play(document, "++");
    const take = (settled: TrialRecord["settled"]) => {
      const follower = new Follower(document, { participant: 1, group: document.groups[0]!.id, orders: {}, seed: "s" });
      return follower.take({ ...records[0], settled } as TrialRecord);
    };
    expect(take({ level: 50 })).toBeNull();
    expect(take({ level: 51 })).toBeNull();
    expect(take({ level: 200 })).toBe("trial 1 cannot have had these values");
    expect(take({ level: 50, other: 1 })).toBe("trial 1 cannot have had these values");
    expect(take(undefined)).toBe("trial 1 cannot have had these values");
  });
});

describe("trials that come again", () => {
  const coming = (again: Again) =>
    study((block) => {
      block.table.columns.pop();
      block.order = { method: "as-listed", passes: 1, limits: [], again };
    });
  const rows = (document: StudyDocument, line: string) =>
    play(document, line).trials.map(({ row, showing }) => {
      const at = firstBlock(document).table.rows.findIndex(({ id }) => id === row);
      return `${"ab"[at]}${showing ?? ""}`;
    });

  it("come at the end where they were wrong or missed", () => {
    const document = coming({ rightTimes: 1, inARow: false, gaps: [], most: 5 });
    expect(rows(document, "++")).toEqual(["a", "b"]);
    expect(rows(document, "-++")).toEqual(["a", "b", "a2"]);
    expect(rows(document, "-00-+")).toEqual(["a", "b", "a2", "b2", "a3"]);
  });

  it("are asked until each was right so often, in all or in a row", () => {
    const all = coming({ rightTimes: 2, inARow: false, gaps: [], most: 9 });
    expect(rows(all, "+-+-++++")).toEqual(["a", "b", "a2", "b2", "b3", "b4"]);
    const row = coming({ rightTimes: 2, inARow: true, gaps: [], most: 9 });
    expect(rows(row, "++-+++++")).toEqual(["a", "b", "a2", "b2", "a3", "a4"]);
  });

  it("come after more and more other trials, the more often they were right", () => {
    const document = coming({ rightTimes: 3, inARow: false, gaps: [0, 0, 1], most: 9 });
    expect(rows(document, "+++++++")).toEqual(["a", "a2", "b", "b2", "a3", "b3"]);
  });

  it("come no more often than the most", () => {
    expect(rows(coming({ rightTimes: 1, inARow: false, gaps: [0], most: 3 }), "----------")).toEqual([
      "a",
      "a2",
      "a3",
      "b",
      "b2",
      "b3",
    ]);
  });
});

it("draws of a block with trials that follow the answers leave those of others as they were", () => {
  const plain = study((block) => void block.table.columns.pop());
  const changed = following({});
  const of = (document: StudyDocument) => compile(document, 1, "s", document.groups[0]!.id).parts;
  const order = (document: StudyDocument) =>
    of(document).map((part) => (part.kind === "block" ? part.trials.map(({ row, drawn }) => [row, drawn]) : part));
  expect(order(changed)).toEqual(order(plain));
});
