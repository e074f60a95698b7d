import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { dataColumn } from "../../values/data-column";
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
