import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";

describe("names in bindings", () => {
  it.each<Flaw>([
    [
      "a column that is gone",
      (block) => void block.table.columns.shift(),
      /item “word”.*uses a column that has been removed/,
    ],
    [
      "a group value that is gone",
      (block) => void (block.answers[0]!.right = { from: { groupValue: "gone" } }),
      /group value that has been removed/,
    ],
    [
      "a column used on a page",
      (_, d) => {
        const page = d.parts["page-1"];
        if (page?.kind === "page")
          page.flow.push({
            kind: "text",
            id: "t",
            text: [{ as: "paragraph", runs: [{ ref: { column: "column-2" } }] }],
          });
      },
      /page “Welcome”.*a page has no trial table/,
    ],
    [
      "a condition of a part on a group value that is gone",
      (_, d) => {
        const [node] = d.runningOrder;
        if (node?.kind === "part") node.when = { left: { from: { groupValue: "gone" } }, is: "=", right: "x" };
      },
      /“Welcome”, played only if: It uses a group value that has been removed/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));
});
