import readSheets from "read-excel-file/node";
import { describe, expect, it } from "vitest";
import { dataColumn, type Cell } from "../../values/data-column";
import { xlsx } from "./xlsx";

const columns = [
  dataColumn<never>("word", "text", "What was shown", () => null),
  dataColumn<never>("ms", "number", "How long & how <so>", () => null, { unit: "milliseconds" }),
];
const book = (...batches: Cell[][][]): Buffer => {
  const writer = xlsx.open(columns);
  const pieces = [writer.start(), ...batches.map((rows) => writer.rows(rows)), writer.end()];
  return Buffer.concat(pieces.map((piece) => Buffer.from(piece as Uint8Array)));
};

describe("a workbook", () => {
  const rows: Cell[][] = [
    ["=1+1", 412.5],
    ["<b>&amp;\"'", -3],
    ["zwei\nZeilen  mit Rand ", null],
    [null, 1e-7],
    ["日本 😀", 9007199254740991],
    ["007", 0],
  ];
  it("is read back by a reader of its own with numbers, texts and empty cells as they were, and a codebook", async () => {
    const sheets = await readSheets(book(rows.slice(0, 2), rows.slice(2)), { trim: false });
    expect(sheets.map(({ sheet }) => sheet)).toEqual(["rows", "codebook"]);
    expect(sheets[0]?.data).toEqual([["word", "ms"], ...rows]);
    expect(sheets[1]?.data).toEqual([
      ["name", "meaning", "unit", "type", "values"],
      ["word", "What was shown", null, "text", null],
      ["ms", "How long & how <so>", "milliseconds", "number", null],
    ]);
  });
  it("is the same bytes each time, holds what XML has no sign for, and says where a text was cut", async () => {
    const odd: Cell[][] = [
      ["a\u0000b\uD800c", 1],
      ["x".repeat(40_000), 2],
    ];
    expect(book(odd).equals(book(odd))).toBe(true);
    const [sheet] = await readSheets(book(odd), { trim: false });
    expect(sheet?.data[1]?.[0]).toBe("a\uFFFDb\uFFFDc");
    expect(String(sheet?.data[2]?.[0])).toMatch(/^x{32766}…$/);
  });
});
