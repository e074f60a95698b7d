import { describe, expect, it } from "vitest";
import { plainStudy, withBlock } from "~/tests/support/studies";
import { plannedAssignment } from "../allocate/allocate";
import { compile } from "./compile";
import { ribbonColumns, ribbonFor } from "./ribbon";

const document = withBlock(
  plainStudy(),
  (block) => void (block.order = { method: "as-listed", passes: 3, limits: [] }),
);

describe("the ribbon", () => {
  it("has a tick for every trial of the plan, in its order", () => {
    const ribbon = ribbonFor(document, 5, "word", "key");
    const plan = compile(document, 5, document.settings.seed, plannedAssignment(document, 5).group);
    const planned = plan.parts.flatMap((part) =>
      part.kind === "block" ? part.trials.map(({ trial, rowNumber }) => [trial, rowNumber]) : [],
    );
    const shown = ribbon.parts.flatMap(({ ticks }) =>
      ticks ? Array.from(ticks.rows, (row, at) => [ticks.first + at, row]) : [],
    );
    expect(shown).toEqual(planned);
    expect(ribbon.parts.map(({ ticks }) => ticks === null)).toEqual([true, false, true]);
  });
  it("colours and raises ticks by the levels of two columns, in the table's order", () => {
    const ribbon = ribbonFor(document, 1, "word", "key");
    expect([ribbon.colorLevels, ribbon.heightLevels]).toEqual([
      ["gull", "ferry"],
      ["f", "j"],
    ]);
    const ticks = ribbon.parts[1]?.ticks;
    expect([ticks?.colors, ticks?.heights].map((each) => [...(each ?? [])].slice(0, 2))).toEqual([
      [0, 1],
      [0, 1],
    ]);
    const without = ribbonFor(document, 1, null, "gone").parts[1]?.ticks;
    expect([without?.colors[0], without?.heights[0]]).toEqual([-1, -1]);
  });
  it("counts trials, the longest run and the use of rows", () => {
    expect(ribbonFor(document, 1, "word", null)).toMatchObject({ trials: 6, longestRun: 1, leastUse: 3, mostUse: 3 });
    const uneven = withBlock(document, (block) => void (block.table.rows[0]!.copies = 4));
    expect(ribbonFor(uneven, 1, "word", null)).toMatchObject({ trials: 15, longestRun: 4, leastUse: 3, mostUse: 12 });
  });
  it("counts which level follows which, where there are few", () => {
    expect(ribbonFor(document, 1, "word", null).counts.after).toEqual([
      [0, 3],
      [2, 0],
    ]);
    const many = withBlock(document, (block) => {
      block.table.rows = Array.from({ length: 40 }, (_, index) => ({
        ...block.table.rows[0]!,
        id: `r${index}`,
        cells: { "column-2": `word ${index}`, "column-3": "f" },
      }));
    });
    expect(ribbonFor(many, 1, "word", null)).toMatchObject({ counts: { after: null, runs: [120] }, trials: 120 });
  });
  it("offers factors first and leaves out filled columns", () => {
    const filled = withBlock(
      document,
      (block) => void (block.table.columns[1]!.cases = { by: ["column-2"], when: [], otherwise: "f" }),
    );
    expect([ribbonColumns(document), ribbonColumns(filled)]).toEqual([["word", "key"], ["word"]]);
  });
});
