import { describe, expect, it } from "vitest";
import { drawing, drawn, own } from "~/tests/support/pools";
import { plainStudy } from "~/tests/support/studies";
import { plannedAssignment } from "../core/allocate/allocate";
import { partNodes } from "../core/design/lookup";
import { balanceOf } from "../core/balance/balance";
import { ribbonFor } from "../core/compile/ribbon";
import { participantNumbers } from "./arguments";
import { balanceInWords } from "./balance";
import { sequenceTable } from "./sequence";
import { simulatedTable } from "./simulate";

describe("participant numbers", () => {
  it.each([
    ["1-4", [1, 2, 3, 4]],
    ["7", [7]],
    ["1-2, 9", [1, 2, 9]],
  ])("%s", (text, numbers) => expect(participantNumbers(text)).toEqual(numbers));
  it("count from one where asked", () => expect(participantNumbers("3", true)).toEqual([1, 2, 3]));
  it.each(["", "0", "4-1", "x", "1-999999999"])("“%s” is refused with an example", (text) =>
    expect(() => participantNumbers(text)).toThrow(/such as 24 or a range such as 1-24/),
  );
});

describe("the sequence table", () => {
  const document = plainStudy();
  it("is of the sitting that is asked for: with its parts, and drawn anew", () => {
    const several = plainStudy();
    several.sittings = ["one", "two"].map((id) => ({ id, name: id, reminder: "" }));
    const [first, second] = [1, 2].map((sitting) => sequenceTable(several, [1, 2, 3, 4, 5, 6], sitting).rows);
    expect(first).toEqual(sequenceTable(plainStudy(), [1, 2, 3, 4, 5, 6]).rows);
    expect(second).toHaveLength(first?.length ?? 0);
    expect(second).not.toEqual(first);
    for (const node of partNodes(several.runningOrder))
      if (several.parts[node.part]?.kind === "block") node.onlySittings = ["two"];
    expect(sequenceTable(several, [1], 1).rows).toEqual([]);
    expect(sequenceTable(several, [1], 2).rows.length).toBeGreaterThan(0);
  });
  it("has one row a trial, with the table's columns behind", () => {
    const { header, rows } = sequenceTable(document, [1, 2]);
    expect(header).toEqual([
      "participant",
      "group_name",
      "part_place",
      "part",
      "pass",
      "sub_block",
      "trial",
      "row",
      "word",
      "key",
    ]);
    expect(rows).toHaveLength(4);
    expect(rows[0]?.slice(0, 7)).toEqual([1, "Everyone", 2, "Block 1", 1, null, 1]);
  });
  it("has what is drawn from pools, as simulated participants are shown it", () => {
    const drawnFrom = drawing({ each: 3, inPool: 6 }, (block) => block.table.columns.push(drawn("seen", own())));
    const { header, rows } = sequenceTable(drawnFrom, [4]);
    const simulated = simulatedTable(drawnFrom, [4]);
    const seen = rows.map((row) => row[header.indexOf("seen")]);
    expect(new Set(seen).size).toBe(6);
    expect(simulated.rows.map((row) => row[simulated.header.indexOf("seen")])).toEqual(seen);
    const said = balanceInWords(balanceOf(drawnFrom, [1, 2, 3, 4]));
    expect(said.join("\n")).toMatch(/Boats, seen: Each of the 12 rows of “Pool creatures” was drawn /);
  });
  it("is the order the ribbon shows and the simulated participant plays", () => {
    for (const participant of [1, 2, 3, 4, 5]) {
      const sequence = sequenceTable(document, [participant]).rows.map((row) => row[7]);
      const ticks = ribbonFor(document, participant, "word", null).parts.flatMap((part) =>
        part.ticks ? [...part.ticks.rows] : [],
      );
      const simulated = simulatedTable(document, [participant]);
      expect(ticks).toEqual(sequence);
      expect(simulated.rows.map((row) => row[simulated.header.indexOf("row")])).toEqual(sequence);
      expect(plannedAssignment(document, participant).group).toBe(document.groups[0]?.id);
    }
  });
});
