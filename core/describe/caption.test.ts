import { expect, it } from "vitest";
import { firstBlock, plainStudy, withBlock } from "~/tests/support/studies";
import { contextFor } from "../values/context";
import type { StudyDocument } from "../design/document";
import { figureCaption } from "./caption";

const caption = (document: StudyDocument) => {
  const block = firstBlock(document);
  const group = document.groups[0]!.id;
  return figureCaption(document, block, contextFor({ study: document, group, participant: 1 }));
};

it("states durations, window, keys, the onset the time counts from and the right answer", () => {
  expect(caption(plainStudy())).toBe(
    "A trial of Block 1. It shows fixation for 500 ms and target until the answer, for at most 2,000 ms. " +
      "The answer (F or J) is taken during target, its reaction time counted from the onset of target; it is right when it equals key.",
  );
});

it("follows the design: drawn and bound durations, conditions, windows over several scenes, several answers", () => {
  const document = withBlock(plainStudy(), (block) => {
    const [fixation, target] = block.scenes;
    fixation!.lasts = { kind: "random-ms", from: 400, to: 800, step: 50 };
    target!.lasts = { kind: "ms", ms: { from: { column: block.table.columns[0]!.id } } };
    block.scenes.push({
      id: "told",
      name: "told",
      lasts: { kind: "ms", ms: 300 },
      items: [],
      when: { left: { from: { builtIn: "last.outcome" } }, is: "=", right: "wrong" },
    });
    const [first] = block.answers;
    block.answers = [
      { ...first!, closesWith: "told", countsFrom: fixation!.id, right: "f" },
      { ...first!, id: "second", name: "sure", counts: "last", right: undefined },
    ];
  });
  expect(caption(document)).toBe(
    "A trial of Block 1. It shows fixation for 400–800 ms (drawn at random in each trial), target for word ms and told for 300 ms, if the answer was wrong. " +
      "The answer “answer” (F or J) is taken from the onset of target until the end of told, its reaction time counted from the onset of fixation; the right one is f. " +
      "The answer “sure” (F or J) is taken during target, its reaction time counted from the onset of target; the last one counts.",
  );
});
