import fc from "fast-check";
import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { dataColumn } from "../../values/data-column";
import type { Cell } from "../../values/data-column";
import type { ExportFormat } from "./format";
import { json, jsonl } from "./json";
import { tsv } from "./tsv";

const columns = ["word", "ms"].map((name) => dataColumn(name, "text", "A column", () => null));
const cell = fc.oneof(fc.constant(null), fc.string({ unit: "binary" }), fc.integer(), fc.double({ noNaN: true }));
const batches = fc.array(fc.array(fc.tuple(cell, cell), { maxLength: 4 }), { maxLength: 4 });
const written = (format: ExportFormat, parts: readonly (readonly Cell[])[][]): string => {
  const writer = format.open(columns);
  return [writer.start(), ...parts.map((rows) => writer.rows(rows)), writer.end()].join("");
};
/** −0 counts as 0, and what JSON has no number for as missing. */
const plain = (value: Cell): Cell =>
  value === 0 ? 0 : typeof value === "number" && !Number.isFinite(value) ? null : value;
const objects = (parts: readonly (readonly Cell[])[][]) =>
  parts.flat().map(([word, ms]) => ({ word: plain(word ?? null), ms: plain(ms ?? null) }));

describe("JSON", () => {
  it("is read back as the same rows, however they come", () =>
    fc.assert(
      fc.property(batches, (parts) => {
        expect(JSON.parse(written(json, parts))).toEqual(objects(parts));
      }),
    ));
  it("has a row on each line where that is asked for", () =>
    fc.assert(
      fc.property(batches, (parts) => {
        const lines = written(jsonl, parts).split("\n").slice(0, -1);
        expect(lines.map((line) => JSON.parse(line) as unknown)).toEqual(objects(parts));
      }),
    ));
});

it("text separated by tabs has a line a row and a field a column, whatever the cells hold", () =>
  fc.assert(
    fc.property(batches, (parts) => {
      const read = Papa.parse<string[]>(written(tsv, parts), {
        delimiter: "\t",
        newline: "\n",
        quoteChar: "\u0000",
      }).data;
      const asField = (value: Cell) =>
        value === null
          ? ""
          : String(value)
              .replaceAll("\t", " ")
              .replace(/\r\n|[\r\n\u2028\u2029]/g, "↵");
      // A NUL stands for a quote to this reader, which has to have one.
      fc.pre(!parts.flat(2).some((value) => typeof value === "string" && value.includes("\u0000")));
      expect(read.slice(0, -1)).toEqual([["word", "ms"], ...parts.flat().map((row) => row.map(asField))]);
    }),
  ));
