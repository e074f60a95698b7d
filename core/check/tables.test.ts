import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";

describe("trial tables", () => {
  it.each<Flaw>([
    ["an empty table", (block) => void (block.table.rows = []), /trial table is empty/],
    ["rows without copies", (block) => block.table.rows.forEach((row) => (row.copies = 0)), /0 copies/],
    [
      "a number that is none",
      (block) => {
        block.table.columns[0]!.type = "number";
      },
      /column “word”.*“gull” is not a number. \(and 1 more row\)/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));
});
