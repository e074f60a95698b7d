import fc from "fast-check";
import { parquetMetadata, parquetReadObjects } from "hyparquet";
import { describe, expect, it } from "vitest";
import { dataColumn, type Cell, type DataColumn } from "../../values/data-column";
import { parquet } from "./parquet";

type Column = Pick<DataColumn<never>, "name" | "type">;
const columns: Column[] = [
  { name: "word", type: "text" },
  { name: "ms", type: "number" },
  { name: "trial", type: "whole number" },
  { name: "is_right", type: "yes/no" },
];

/** A table written in two pieces. */
function written(of: readonly Column[], rows: readonly (readonly Cell[])[], at = rows.length): ArrayBuffer {
  const writer = parquet.open(
    of.map(({ name, type }) => dataColumn<never>(name, type, `What ${name} is`, () => null)),
    {
      rows: rows.length,
      columns: of.map((_, column) => {
        const cells = rows.map((row) => row[column] ?? null);
        return {
          texts: cells.filter((cell) => typeof cell === "string").length,
          bytes: 0,
          isWhole: cells.every((cell) => typeof cell !== "number" || (cell | 0) === cell),
        };
      }),
    },
  );
  const pieces = [writer.start(), writer.rows(rows.slice(0, at)), writer.rows(rows.slice(at)), writer.end()];
  const whole = Buffer.concat(pieces.map((piece) => Buffer.from(piece as Uint8Array)));
  return new Uint8Array(whole).buffer;
}

describe("Parquet", () => {
  it("is read back as the same rows, in whatever pieces they come", async () => {
    const row = fc.tuple(
      fc.option(fc.string({ unit: "grapheme" })),
      fc.option(fc.double({ noNaN: true })),
      fc.option(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 })),
      fc.constantFrom("yes", "no", null),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(row, { minLength: 1, maxLength: 8 }), fc.nat(8), async (rows, at) => {
        expect(await parquetReadObjects({ file: written(columns, rows, at) })).toEqual(
          rows.map(([word, ms, trial, right]) => ({
            word,
            ms,
            trial,
            is_right: right === null ? null : right === "yes",
          })),
        );
      }),
    );
  });

  it("has the types of the columns, also without any rows, and texts where a number should be", async () => {
    const types = (file: ArrayBuffer) =>
      parquetMetadata(file)
        .schema.slice(1)
        .map(({ name, type }) => [name, type]);
    expect(types(written(columns, []))).toEqual([
      ["word", "BYTE_ARRAY"],
      ["ms", "DOUBLE"],
      ["trial", "INT32"],
      ["is_right", "BOOLEAN"],
    ]);
    const mixed = written([{ name: "ms", type: "number" }], [[431.5], ["late"]]);
    expect(await parquetReadObjects({ file: mixed })).toEqual([{ ms: "431.5" }, { ms: "late" }]);
    const large = written([{ name: "trial", type: "whole number" }], [[2 ** 40], [1]]);
    expect(await parquetReadObjects({ file: large })).toEqual([{ trial: 2 ** 40 }, { trial: 1 }]);
  });

  it("is written a group of rows at a time", async () => {
    const rows = Array.from({ length: 120_000 }, (_, at): Cell[] => [`w${at % 7}`, at / 10, at, at % 2 ? "yes" : "no"]);
    const file = written(columns, rows, 70_000);
    expect(parquetMetadata(file).row_groups.map(({ num_rows }) => Number(num_rows))).toEqual([50_000, 50_000, 20_000]);
    const read = await parquetReadObjects({ file });
    expect(read).toHaveLength(120_000);
    expect(read[99_999]).toEqual({ word: "w4", ms: 9999.9, trial: 99_999, is_right: true });
  });
});
