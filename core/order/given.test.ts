import { describe, expect, it } from "vitest";
import { firstBlock, plainStudy } from "~/tests/support/studies";
import { readSequences } from "./given";

const block = firstBlock(plainStudy());
const [first, second] = block.table.rows.map(({ id }) => id);
const read = (...lines: string[]) =>
  readSequences(lines.join("\n"), block, (row, column) => String(row.cells[column] ?? ""));

describe("sequences from a file", () => {
  it("are read for all, or for each participant", () => {
    expect(read("row", "2", "1").sequences).toEqual([{ participant: null, rows: [second, first] }]);
    expect(read("participant,trial,row", "1,1,2", "1,2,1", "2,1,1", "2,2,2").sequences).toEqual([
      { participant: 1, rows: [second, first] },
      { participant: 2, rows: [first, second] },
    ]);
  });

  it("of other parts are passed over", () => {
    const { sequences, notes } = read("part,row", "Block 1,1", "Practice,2");
    expect(sequences).toEqual([{ participant: null, rows: [first] }]);
    expect(notes.join()).toMatch(/1 lines are of other parts/);
  });

  it.each([
    ["an unknown row", ["row", "1", "7"], /Line 3: there is no row “7”; the table has rows 1 to 2/],
    ["a gap", ["trial,row", "1,1", "3,2"], /Line 3: trial 3 follows trial 1/],
    ["a repeat", ["trial,row", "1,1", "2,2", "1,2"], /Line 4: trial 1 appears twice/],
    [
      "a value that the table does not have",
      ["row,word", "1,heron"],
      /Line 2: word is “heron”, but row 1 of the table has “gull”/,
    ],
    ["a participant that is none", ["participant,row", "x,1"], /Line 2: “x” is not a participant's number/],
    ["no column of rows", ["trial", "1"], /no column “row”/],
  ])("with %s are reported with the line, and nothing is taken", (_, lines, message) => {
    const { sequences, problems } = read(...lines);
    expect(sequences).toEqual([]);
    expect(problems.join("\n")).toMatch(message);
  });

  it("that leave participants out or use rows unequally are noted", () => {
    const { notes } = read("participant,row", "1,1", "4,1");
    expect(notes.join(" ")).toMatch(/no sequence for participant 2 to 3/);
    expect(notes.join(" ")).toMatch(/Row 2 never come/);
  });
});
