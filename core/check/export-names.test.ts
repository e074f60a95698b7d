import { describe, expect, it } from "vitest";
import { linesOf } from "~/tests/support/findings";
import { plainStudy, withBlock } from "~/tests/support/studies";

describe("names in the exported data", () => {
  const called = (name: string) => withBlock(plainStudy(), ({ table }) => void (table.columns[0]!.name = name));

  it("are found where a column has that of another", () => {
    for (const name of ["early_answers", "attempt", "is_right"])
      expect(linesOf(called(name), "warning").join()).toContain(`column “${name}”`);
    expect(linesOf(called("noun"), "warning")).toEqual([]);
  });
  it("are found where an answer's column comes to stand on a table's", () => {
    const two = withBlock(called("choice_answer"), (block) => {
      block.answers[0]!.name = "choice";
      block.answers.push({ ...structuredClone(block.answers[0]!), id: "second", name: "sure" });
    });
    expect(linesOf(two, "warning").join()).toContain("choice_answer");
  });
  it("are found where two parts have one", () => {
    const two = withBlock(plainStudy(), (block, document) => {
      document.parts["second"] = { ...structuredClone(block), id: "second" };
      document.runningOrder.push({ kind: "part", part: "second" });
    });
    expect(linesOf(two, "warning").join()).toContain("“Block 1 (2)”");
  });
  it("are told where programs do not take them", () =>
    expect(linesOf(called("by"), "note").join()).toContain("call it “x_by”"));
});
