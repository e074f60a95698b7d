import { describe, expect, it } from "vitest";
import { linksFromPattern, linksFromText, listProblem, mostLinks } from "./link-list";

const labels = (list: ReturnType<typeof linksFromText>) =>
  list.ok ? list.links.map(({ label, note }) => (note ? `${label}: ${note}` : label)) : list.problem;

describe("links for single people", () => {
  it.each<[string, string[] | string]>([
    ["gull\ntern\n\n knot \r\n", ["gull", "tern", "knot"]],
    ["gull\tsits in front, left\ntern, late\nknot;", ["gull: sits in front, left", "tern: late", "knot"]],
    ["", "The list is empty. Write a name a line."],
    ["gull\n,late", "Line 2 has no name."],
    ["gull\nGull", "Line 2: “Gull” stands in the list twice."],
    ["x".repeat(81), "Line 1 is too long: a name has at most 80 characters, a note 300."],
  ])("come from a list: %j", (text, expected) => {
    expect(labels(linksFromText(text))).toEqual(expected);
  });

  it.each<[string, number, string[] | string]>([
    ["course-b-##", 3, ["course-b-01", "course-b-02", "course-b-03"]],
    ["#/quay", 2, ["1/quay", "2/quay"]],
    ["Reader", 2, ["Reader 1", "Reader 2"]],
    ["Reader", 1, ["Reader"]],
    ["", 2, ["1", "2"]],
    ["a#b#", 2, "Put the signs # for the number next to each other."],
    ["a", 0, "Say how many, as a whole number from 1."],
    ["a", 1.5, "Say how many, as a whole number from 1."],
    ["#", mostLinks + 1, "At most 1,000 links are made at once."],
  ])("come from a pattern: %j, %d", (pattern, count, expected) => {
    expect(labels(linksFromPattern(pattern, count))).toEqual(expected);
  });

  it("may be as many as a thousand, with numbers longer than the pattern has signs", () => {
    const list = linksFromPattern("p#", mostLinks);
    expect(list.ok && [list.links.length, list.links.at(-1)?.label, listProblem(list.links)]).toEqual([
      1000,
      "p1000",
      null,
    ]);
  });
});
