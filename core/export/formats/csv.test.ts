import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { dataColumn } from "../../values/data-column";
import { packed, unpacked } from "../../tidy/packed";
import { csv, csvText } from "./csv";
import { spreadsheet } from "./spreadsheet";

const column = dataColumn("a", "text", "A column", () => null);

describe("csv", () => {
  it("is read back by another program as it was, whatever the cells hold", () => {
    const cell = fc.oneof(
      fc.string({ unit: "binary" }).filter((text) => text !== ""),
      fc.constantFrom('"', ",", "\r\n", "a\nb", " x ", "−4", "=1+1"),
    );
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 5 }), (rows) => {
        const text = csvText(rows);
        expect(
          Papa.parse(text, { newline: "\r\n", skipEmptyLines: false, quoteChar: '"', delimiter: "," }).data.slice(
            0,
            -1,
          ),
        ).toEqual(rows);
      }),
    );
  });
  it("writes a missing value as an empty cell and numbers as they are", () =>
    expect(csvText([[null, 0, -4.5, ""]])).toBe(",0,-4.5,\r\n"));
  it("keeps each row on one line for a spreadsheet, and cells as they are for a statistics program", () => {
    const cells = [["a\nb", "c\r\nd", "e\rf", "g"]];
    expect(csvText(cells, { forSpreadsheet: true })).toBe("a↵b,c↵d,e↵f,g\r\n");
    expect(csvText(cells)).toBe('"a\nb","c\r\nd","e\rf",g\r\n');
  });
  it("writes columns as it writes their rows, from any row to any other", () => {
    const cell = fc.oneof(
      fc.constant(null),
      fc.integer(),
      fc.double({ noNaN: true }),
      fc.constantFrom("a", 'b"', "=1", "c\nd", ""),
    );
    const columns = fc
      .integer({ min: 1, max: 12 })
      .chain((length) =>
        fc.array(fc.array(cell, { minLength: length, maxLength: length }), { minLength: 1, maxLength: 4 }),
      );
    fc.assert(
      fc.property(columns, fc.nat(5), fc.boolean(), (cells, from, isSpreadsheet) => {
        const writer = (isSpreadsheet ? spreadsheet : csv).open([column]);
        const to = cells[0]!.length;
        const unpackedOf = cells.map((each) => {
          const bytes = packed(each);
          return bytes && unpacked(bytes, to);
        });
        const rows = Array.from({ length: Math.max(0, to - from) }, (_, at) =>
          cells.map((each) => each[from + at] ?? null),
        );
        expect(writer.columns?.(unpackedOf, from, to)).toBe(writer.rows(rows));
      }),
      { numRuns: 5000 },
    );
  });
  it("begins with a byte order mark only for a spreadsheet", () => {
    expect(csv.open([column]).start()).toBe("a\r\n");
    expect(spreadsheet.open([column]).start()).toBe("\uFEFFa\r\n");
  });
  it("makes what a spreadsheet would run plain text, and leaves numbers alone", () => {
    expect(csvText([["=1+1", "+cmd", "@x", "-x", "-4.5", "+3e2", -7]], { forSpreadsheet: true })).toBe(
      "'=1+1,'+cmd,'@x,'-x,-4.5,+3e2,-7\r\n",
    );
    expect(csvText([["=1+1"]])).toBe("=1+1\r\n");
  });
});
