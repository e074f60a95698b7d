import { describe, expect, it } from "vitest";
import { flawed, linesOf, type Flaw } from "~/tests/support/findings";

describe("orders of trials", () => {
  it.each<Flaw>([
    [
      "a limit that the table cannot satisfy, with the reason",
      (block) => {
        block.table.rows[0]!.copies = 12;
        block.table.rows[1]!.copies = 4;
        block.order.limits.push({ kind: "longest-run", columns: ["column-2"], most: 2 });
      },
      /12 of 16 trials have word “gull”: with at most 2 in a row at least 5 others are needed between them, there are 4/,
    ],
    [
      "limits that exclude each other, by counting all orders",
      (block) => {
        for (const row of block.table.rows) row.copies = 3;
        block.order.limits.push(
          { kind: "longest-run", columns: ["column-2"], most: 1 },
          { kind: "edge-trials", at: "first", column: "column-2", only: ["gull"], count: 1 },
          { kind: "edge-trials", at: "last", column: "column-2", only: ["gull"], count: 1 },
        );
      },
      /No order of these 6 trials has .* together. All were counted/,
    ],
    [
      "a limit on a column that is gone",
      (block) => void block.order.limits.push({ kind: "longest-run", columns: ["column-99"], most: 2 }),
      /names a column that the table no longer has/,
    ],
  ])("finds %s", (_, change, message) => expect(linesOf(flawed(change)).join("\n")).toMatch(message));
});
