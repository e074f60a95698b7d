import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";

describe("brackets", () => {
  it.each<Flaw>([
    [
      "a bracket that should take more than it has",
      (_, d) =>
        void (d.runningOrder = [{ kind: "bracket", id: "b", arrange: "shuffled", take: 9, nodes: d.runningOrder }]),
      /9 parts should be taken, but there are 3/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));
});
