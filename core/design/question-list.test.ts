import { expect, it } from "vitest";
import { countedIds } from "~/tests/support/studies";
import { questionsFromList } from "./question-list";

it("reads questions, options and what is right, with a head or without", () => {
  const { questions, problems } = questionsFromList(
    [
      ["Question", "option 1", "option 2", "option 3", "right", "points"],
      ["Which bird has the longest bill?", "curlew", "dunlin", "knot", "curlew", "2"],
      ["When does it breed?", "in spring", "in autumn", "", "1", ""],
      ["Only one?", "yes", "", "", "", ""],
      ["", "a", "b", "", "", ""],
      ["What is it?", "a", "b", "", "c", ""],
    ],
    countedIds(),
    ["item_1"],
  );
  expect(
    questions.map(({ name, options }) => [name, options.map(({ label, right, points }) => [label, right, points])]),
  ).toEqual([
    [
      "item_2",
      [
        ["curlew", true, 2],
        ["dunlin", undefined, undefined],
        ["knot", undefined, undefined],
      ],
    ],
    [
      "item_3",
      [
        ["in spring", true, undefined],
        ["in autumn", undefined, undefined],
      ],
    ],
    [
      "item_4",
      [
        ["a", undefined, undefined],
        ["b", undefined, undefined],
      ],
    ],
  ]);
  expect(problems).toEqual([
    "Line 4 (“Only one?”) has fewer than two options.",
    "Line 5 has no question.",
    "Line 6: “c” is none of its options; the question has no right answer.",
  ]);
  const plain = questionsFromList([["How many legs?", "six; *eight; ten"]], countedIds(), []);
  expect(plain.questions[0]?.options.map(({ label, right }) => [label, right])).toEqual([
    ["six", undefined],
    ["eight", true],
    ["ten", undefined],
  ]);
});
