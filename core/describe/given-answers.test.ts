import { expect, it } from "vitest";
import type { AnswerRecord, TrialRecord } from "../records/record";
import { plainStudy } from "~/tests/support/studies";
import { blocksInOrder } from "../design/lookup";
import { givenAnswers } from "./given-answers";

const document = plainStudy();
const block = blocksInOrder(document)[0]!;
const taken = (at: number, value: string, point: { x?: number; y?: number } = {}) => ({
  ...{ value, at, scenesShown: 1, order: 1, rt: at - 1000 },
  input: { device: "pointer" as const, value, ...point },
});
const trial = (answer: Partial<AnswerRecord>): TrialRecord => ({
  ...{ kind: "trial", number: 1, part: block.id, trial: 1, pass: 1, row: "r", scenes: [], observed: [], placed: {} },
  lateFrames: 0,
  answers: [
    {
      ...{
        answer: block.answers[0]!.id,
        given: null,
        right: null,
        outcome: "none",
        early: [],
        tooLate: null,
        revised: [],
      },
      ...answer,
    },
  ],
});

it("every answer is told when it was given, with whether it counts, and where it was pointed at", () => {
  const records = [
    trial({
      given: taken(1500, "c", { x: 3, y: -4 }),
      right: true,
      early: [{ ...{ value: "a", at: 900, scenesShown: 1, order: 1 }, input: { device: "pointer", value: "a" } }],
      revised: [taken(1200, "b")],
      tooLate: taken(2000, "d", { x: 3 }),
    }),
  ];
  const name = block.answers[0]!.name;
  expect(givenAnswers(document, records)).toEqual([
    { at: 900, trial: 1, name, value: "a", rt: null, right: null, counts: "too early", point: null },
    { at: 1200, trial: 1, name, value: "b", rt: 200, right: null, counts: "changed later", point: null },
    { at: 1500, trial: 1, name, value: "c", rt: 500, right: true, counts: "yes", point: { x: 3, y: -4 } },
    { at: 2000, trial: 1, name, value: "d", rt: 1000, right: null, counts: "too late", point: null },
  ]);
});

it("pages and breaks have none, and a part that is gone keeps its answer's id as a name", () => {
  const page = { kind: "page" as const, number: 1, part: "page-1", shown: 0, done: 5 };
  expect(givenAnswers(document, [page])).toEqual([]);
  expect(givenAnswers({ parts: {} }, [trial({ given: taken(5, "x") })])[0]?.name).toBe(block.answers[0]!.id);
});
