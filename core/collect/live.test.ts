import { describe, expect, it } from "vitest";
import { liveMessages, type LiveFacts } from "./live";

const facts = (more: Partial<LiveFacts> = {}): LiveFacts => ({
  ...{ started: 40, leaving: [], groups: [], timed: 40, late: 0, keptAside: 0 },
  ...more,
});
const groups = (...counts: [number, number][]) =>
  counts.map(([count, share], index) => ({ name: `Group ${index + 1}`, count, share }));

describe("what needs somebody", () => {
  it.each<[string, Partial<LiveFacts>, RegExp[]]>([
    ["nothing, where all is well", { groups: groups([20, 1], [20, 1]) }, []],
    ["nothing, before anybody has begun", { started: 0, timed: 0, groups: groups([0, 1], [0, 1]) }, []],
    ["no group that is a little behind", { groups: groups([21, 1], [17, 1]) }, []],
    ["a group that is behind", { groups: groups([23, 1], [17, 1]) }, [/^Group 2 is behind: it has 17.*have 20\.$/]],
    ["by its share", { groups: groups([20, 2], [10, 1]) }, []],
    [
      "a group far behind its share",
      { groups: groups([18, 2], [15, 1]) },
      [/^Group 1 is behind: it has 18.*have 22\.$/],
    ],
    ["few who leave", { leaving: [{ part: "Practice", count: 7 }] }, []],
    [
      "many who leave at one part",
      {
        leaving: [
          { part: "", count: 1 },
          { part: "Practice", count: 8 },
        ],
      },
      [/^8 of 40 left at Practice\./],
    ],
    ["none where only few have begun", { started: 4, leaving: [{ part: "Practice", count: 4 }] }, []],
    ["many who leave before all", { leaving: [{ part: "", count: 20 }] }, [/left before the first part/]],
    ["a session or two with late scenes", { late: 3 }, []],
    ["many of them", { late: 4 }, [/^In 4 of 40 sessions more than 5 % of scenes were late/]],
    ["records that were kept aside", { keptAside: 1 }, [/^Records of one session were kept aside/]],
    ["records of several sessions", { keptAside: 3 }, [/^Records of 3 sessions were kept aside/]],
  ])("%s", (_, more, expected) => {
    const told = liveMessages(facts(more));
    expect(told).toHaveLength(expected.length);
    expected.forEach((each, index) => expect(told[index]).toMatch(each));
  });
});
