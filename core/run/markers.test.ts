import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { compile } from "../compile/compile";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import type { AnyMarker, Marked, Marker } from "../markers/marker";
import { markersAt, markersAtStart, type DueMarker } from "./markers";
import { sessionMachine } from "./session-machine";
import type { SessionEvent } from "./state";

const marker = (name: string, at: Marked, value: Marker["value"] = name): Marker => ({
  id: `m-${name}`,
  name,
  at,
  value,
});
/** One block of two rows, as listed: fixation 500 ms, then target until F or J. */
function study(markers: (block: Block) => Marker[], change: (block: Block) => void = () => undefined): StudyDocument {
  return withBlock(plainStudy(), (block, document) => {
    block.order = { method: "as-listed", passes: 1, limits: [] };
    document.runningOrder = [{ kind: "part", part: block.id }];
    change(block);
    block.markers = markers(block);
    document.markers = [
      { id: "begin", name: "begin", at: { on: "session-begins" }, value: 1 },
      { id: "end", name: "end", at: { on: "session-ends" }, value: 255 },
    ];
  });
}
const flip = (at: number): SessionEvent => ({ kind: "flip", at, late: 0 });
const press = (at: number, value: string): SessionEvent => ({
  kind: "input",
  at,
  input: { device: "keys", value, place: value, act: "press" },
});

function sent(document: StudyDocument, events: readonly SessionEvent[]): DueMarker[] {
  const machine = sessionMachine(document, compile(document, 1, "s", document.groups[0]?.id ?? ""));
  let step = machine.begin();
  const all = markersAtStart(machine.course, step.state);
  for (const event of events) {
    const next = machine.next(step.state, event);
    all.push(...markersAt(machine.course, step.state, event, next));
    step = next;
  }
  return all;
}
const told = (all: readonly DueMarker[]) => all.map(({ name, at }) => `${at} ${name}`);
const scene = (block: Block, index: number) => block.scenes[index]?.id ?? "";
const session = [
  flip(0),
  flip(500),
  press(800, "f"),
  flip(810),
  flip(1000),
  flip(1500),
  press(1900, "x"),
  press(2000, "j"),
  flip(2010),
];

describe("markers", () => {
  it("come with what they mark: block, trial, scene, answer and session, in their order", () => {
    const all = sent(
      study((block) => {
        const answer = block.answers[0]?.id ?? "";
        return [
          marker("trial", { on: "trial-begins" }),
          marker("over", { on: "trial-ends" }),
          marker("block", { on: "block-begins" }),
          marker("block over", { on: "block-ends" }),
          marker("target", { on: "scene-begins", scene: scene(block, 1) }),
          marker("given", { on: "answer", answer, how: "given" }),
          marker("right", { on: "answer", answer, how: "right" }),
          marker("wrong", { on: "answer", answer, how: "wrong" }),
        ];
      }),
      session,
    );
    expect(told(all)).toEqual([
      ...["0 begin", "0 block", "0 trial", "500 target", "800 given", "800 right", "810 over"],
      ...["1000 trial", "1500 target", "2000 given", "2000 right", "2010 over", "2010 block over", "2010 end"],
    ]);
  });

  it("take their values from the row, and say nothing where there is none", () => {
    const document = study((block) => {
      const [word, key] = block.table.columns.map(({ id }) => id) as [string, string];
      return [
        marker("word", { on: "scene-begins", scene: scene(block, 0) }, { from: { column: word } }),
        marker(
          "number",
          { on: "scene-begins", scene: scene(block, 1) },
          {
            calculate: "plus",
            of: [10, { from: { column: key } }],
          },
        ),
      ];
    });
    const all = sent(document, session);
    const block = firstBlock(document);
    const words = block.table.rows.map(({ cells }) => cells[block.table.columns[0]?.id ?? ""]);
    expect(all.filter(({ name }) => name === "word").map(({ value }) => value)).toEqual(words);
    // A letter is no number that ten could be added to.
    expect(all.filter(({ name }) => name === "number").map(({ value }) => value)).toEqual([null, null]);
  });

  it("of an item come with its scene, or at its own time where it has one", () => {
    const document = study(
      (block) => [
        marker("cross", { on: "item-begins", item: block.scenes[0]?.items[0]?.id ?? "" }),
        marker("late", { on: "item-begins", item: block.scenes[1]?.items[0]?.id ?? "" }),
      ],
      (block) => {
        const item = block.scenes[1]?.items[0];
        if (item) item.begins = 200;
      },
    );
    const item = firstBlock(document).scenes[1]?.items[0]?.id ?? "";
    const began: SessionEvent = { kind: "observed", observation: { item, what: "began", at: 700 } };
    expect(told(sent(document, [flip(0), flip(500), began, press(800, "f"), flip(810)]))).toEqual([
      ...["0 begin", "0 cross", "700 late"],
    ]);
  });

  it("of a trial that is broken off say that it ended, and come again with it", () => {
    const all = sent(
      study(() => [marker("trial", { on: "trial-begins" }), marker("over", { on: "trial-ends" })]),
      [flip(0), { kind: "break-off", at: 100, why: "focus" }, flip(3000), flip(3500)],
    );
    expect(told(all)).toEqual(["0 begin", "0 trial", "100 over", "3000 trial"]);
  });

  it("are the same list whatever their order in the design, moment by moment", () => {
    const moments: AnyMarker["at"]["on"][] = ["trial-ends", "block-ends", "trial-begins", "block-begins"];
    const make = (order: readonly string[]) =>
      sent(
        study(() => order.map((on) => marker(on, { on } as Marked))),
        session,
      ).map(({ at }) => at);
    expect(make(moments)).toEqual(make(moments.toReversed()));
  });
});
