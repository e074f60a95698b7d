import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Cell } from "../values/data-column";
import { contains, markRows, pageSorted, rowsSought, type Comparison } from "./chosen-rows";
import { cellAt, coded, ColumnBuilder, type Column } from "./column";
import { packed, unpacked } from "./packed";

const number = fc.oneof(
  fc.integer({ min: -40_000, max: 40_000 }),
  fc.integer({ min: -(2 ** 33), max: 2 ** 33 }),
  fc.integer({ min: -9000, max: 9000 }).map((tenths) => tenths / 10),
  fc.double({ noNaN: true }),
  fc.constant(-0),
);
const word = fc.oneof(fc.constantFrom("knot", "gull", "", "12", "=1"), fc.string({ unit: "grapheme" }));
const cellsOf = (...kinds: fc.Arbitrary<Cell>[]) => fc.array(fc.oneof(...kinds), { minLength: 1, maxLength: 40 });
/** Columns as they come: all numbers, all words, one thing throughout, a mixture. */
const anyCells = fc.oneof(
  cellsOf(number, fc.constant(null)),
  cellsOf(fc.integer({ min: -100, max: 100 }), fc.constant(null)),
  cellsOf(word, fc.constant(null)),
  cellsOf(number, word, fc.constant(null)),
  fc.tuple(fc.oneof(number, word), fc.integer({ min: 1, max: 9 })).map(([cell, many]) => Array<Cell>(many).fill(cell)),
);
/** −0 counts as 0. */
const plain = (cell: Cell): Cell => (cell === 0 ? 0 : cell);
const all = (column: Parameters<typeof cellAt>[0], count: number) =>
  Array.from({ length: count }, (_, row) => plain(cellAt(column, row)));
const built = (parts: readonly Cell[][]): Column => {
  const builder = new ColumnBuilder(parts.flat().length);
  for (const cells of parts) {
    const bytes = packed(cells);
    builder.add(bytes && unpacked(bytes, cells.length), cells.length);
  }
  return builder.done();
};

describe("packed cells", () => {
  it("are the same when they are unpacked, also from within other bytes", () =>
    fc.assert(
      fc.property(anyCells, (cells) => {
        const bytes = packed(cells);
        if (bytes === null) return void expect(cells.every((cell) => cell === null)).toBe(true);
        const within = new Uint8Array(bytes.length + 3);
        within.set(bytes, 3);
        for (const given of [within.subarray(3), Buffer.from(within.buffer, 3)])
          expect(all(unpacked(given, cells.length), cells.length)).toEqual(cells.map(plain));
      }),
      { numRuns: 500 },
    ));
  it("need a byte or two where a session says few different things", () => {
    expect(packed(Array<Cell>(200).fill("amber-quay"))?.length).toBe(8 + 10);
    expect(packed(Array.from({ length: 200 }, (_, at) => (at % 2 ? "with" : "against")))?.length).toBeLessThan(240);
    expect(packed(Array.from({ length: 200 }, (_, at) => at))?.length).toBe(8 + 400);
  });
  it("of several sessions make one column, empty ones among them", () =>
    fc.assert(
      fc.property(fc.array(fc.oneof(anyCells, cellsOf(fc.constant(null))), { maxLength: 5 }), (parts) => {
        expect(all(built(parts), parts.flat().length)).toEqual(parts.flat().map(plain));
      }),
    ));
  it("are told apart by codes", () =>
    fc.assert(
      fc.property(anyCells, (cells) => {
        const { codes, cells: meant } = coded(built([cells]));
        expect(Array.from(codes, (code) => plain(meant[code] ?? null))).toEqual(cells.map(plain));
      }),
    ));
});

describe("rows that are looked for", () => {
  const kind = built([["knot", "gull", null, "Knot", "12"]]);
  const ms = built([[431.2, null, 398, 512.5, 398]]);
  const found = (of: Column, is: Comparison, value = "") => [...rowsSought(5, { conditions: [{ of, is, value }] })];

  it.each([
    ["is", kind, "KNOT", [0, 3]],
    ["is-not", kind, "knot", [1, 2, 4]],
    ["contains", kind, "n", [0, 3]],
    ["at-least", kind, "12", [4]],
    ["empty", kind, "", [2]],
    ["not-empty", ms, "", [0, 2, 3, 4]],
    ["is", ms, "398", [2, 4]],
    ["is", ms, "398.0", [2, 4]],
    ["at-least", ms, "431.2", [0, 3]],
    ["at-most", ms, "400", [2, 4]],
    ["at-most", ms, "many", []],
    ["contains", ms, "12.5", [3]],
  ] as const)("%s", (is, of, value, rows) => expect(found(of, is, value)).toEqual(rows));

  it("fulfil every condition, and are among those found", () => {
    const conditions = [{ of: ms, is: "not-empty", value: "" } as const];
    const marked = (text: string, ...parts: Cell[][]) => {
      const marks = new Uint8Array(5);
      for (const cells of parts) {
        const bytes = packed(cells);
        if (bytes) markRows(marks, unpacked(bytes, cells.length), { from: 0, count: cells.length }, contains(text));
      }
      return marks;
    };
    const words = ["knot", "gull", null, "Knot", "12"];
    const rows = (text: string) => [
      ...rowsSought(5, {
        conditions,
        found: marked(text, words, [431.2, null, 398, 512.5, 398], Array<Cell>(2).fill("reed")),
      }),
    ];
    expect(rows("NOT")).toEqual([0, 3]);
    expect(rows("398")).toEqual([2, 4]);
    expect(rows("51")).toEqual([]);
    expect(rows("ree")).toEqual([0]);
    expect([...rowsSought(5, { conditions: [] })]).toEqual([0, 1, 2, 3, 4]);
  });

  it("come a page at a time as sorting them all would give, alike ones in their order and empty ones last", () =>
    fc.assert(
      fc.property(
        fc.oneof(cellsOf(fc.integer({ min: 0, max: 4 }), number, fc.constant(null)), cellsOf(word, fc.constant(null))),
        fc.boolean(),
        fc.nat(30),
        fc.integer({ min: 1, max: 10 }),
        (cells, isFalling, from, many) => {
          const by = built([cells]);
          const rows = rowsSought(cells.length, { conditions: [] });
          const turned = isFalling ? -1 : 1;
          const collator = new Intl.Collator("en", { numeric: true });
          const order = (a: Cell, b: Cell) =>
            a === null || b === null
              ? Number(a === null) - Number(b === null)
              : turned *
                (typeof a === "number" && typeof b === "number" ? a - b : collator.compare(String(a), String(b)));
          // Texts that are alike to the eye alone are told apart by their place in the list.
          const alike = cells.some((a, at) => cells.some((b, other) => at !== other && a !== b && order(a, b) === 0));
          fc.pre(!alike);
          const whole = [...rows].sort((a, b) => order(cells[a] ?? null, cells[b] ?? null));
          expect([...pageSorted(rows, { by, isFalling }, from, from + many)]).toEqual(whole.slice(from, from + many));
        },
      ),
      { numRuns: 500 },
    ));

  it("come with infinite numbers before empty cells", () => {
    const by = built([[null, Infinity, 3, -Infinity]]);
    const rows = rowsSought(4, { conditions: [] });
    expect([...pageSorted(rows, { by, isFalling: false }, 0, 4)]).toEqual([3, 2, 1, 0]);
    expect([...pageSorted(rows, { by, isFalling: true }, 0, 4)]).toEqual([1, 2, 3, 0]);
  });
});
