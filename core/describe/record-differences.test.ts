import { expect, it } from "vitest";
import { recordDifferences } from "./record-differences";

it("names each field in which two records differ, by its place", () => {
  const first = { kind: "trial", number: 3, answers: [{ given: { value: "f", rt: 512.4 }, early: [] }] };
  const second = { kind: "trial", number: 3, answers: [{ given: { value: "j", rt: 512.4 }, early: [] }], more: true };
  expect(recordDifferences(first, second)).toEqual([
    { field: "answers 1 given value", first: "f", second: "j" },
    { field: "more", first: null, second: "true" },
  ]);
  expect(recordDifferences(first, structuredClone(first))).toEqual([]);
});

it("sees an answer that is there only in one of them", () => {
  expect(recordDifferences({ given: null }, { given: { value: "f" } })).toEqual([
    { field: "given", first: "null", second: null },
    { field: "given value", first: null, second: "f" },
  ]);
});
