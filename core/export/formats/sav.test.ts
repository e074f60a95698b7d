import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dataColumn, type Cell, type DataColumn } from "../../values/data-column";
import { sav } from "./sav";

/** What a reader of the published format finds: variables with their labels, and the cells; texts without blanks at their end. */
function read(bytes: Uint8Array) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  const int = () => view.getInt32((at += 4) - 4, true);
  const double = () => view.getFloat64((at += 8) - 8, true);
  const text = (length: number) => new TextDecoder().decode(bytes.subarray(at, (at += length)));
  expect(text(4)).toBe("$FL2");
  at += 60;
  const header = { layout: int(), elements: int(), compression: int(), weight: int(), cases: int(), bias: double() };
  expect(header).toMatchObject({ layout: 2, compression: 1, weight: 0, bias: 100 });
  at += 9 + 8 + 64 + 3;
  const elements: { width: number; short: string; label: string; format: number }[] = [];
  const names = new Map<string, string>();
  const long = new Map<string, number>();
  const labelled: number[] = [];
  let labels: [number, string][] = [];
  let measures: number[] = [];
  for (let kind = int(); kind !== 999; kind = int()) {
    if (kind === 2) {
      const [width, hasLabel, missing, format] = [int(), int(), int(), int()];
      expect([missing, int()]).toEqual([0, format]);
      const short = text(8).trim();
      const length = hasLabel === 1 ? int() : 0;
      const label = text(length);
      at += (4 - (length % 4)) % 4;
      elements.push({ width, short, label, format });
    } else if (kind === 3) {
      labels = Array.from({ length: int() }, () => {
        const value = double();
        const length = bytes[at++] ?? 0;
        const label = text(length);
        at += 7 - length;
        return [value, label];
      });
    } else if (kind === 4) labelled.push(...Array.from({ length: int() }, int));
    else {
      expect(kind).toBe(7);
      const [subtype, size, count] = [int(), int(), int()];
      const end = at + size * count;
      if (subtype === 11) measures = Array.from({ length: count / 3 }, () => [int(), int(), int()][0] ?? 0);
      if (subtype === 13)
        for (const pair of text(count).split("\t")) names.set(pair.split("=")[0] ?? "", pair.split("=")[1] ?? "");
      if (subtype === 14)
        for (const pair of text(count).split("\0\t").filter(Boolean))
          long.set(pair.split("=")[0] ?? "", Number(pair.split("=")[1]));
      if (subtype === 20) expect(text(count)).toBe("UTF-8");
      at = end;
    }
  }
  expect(int()).toBe(0);
  expect(header.elements).toBe(elements.length);
  // Elements of eight bytes, out of bytecodes.
  const values: (number | null | Uint8Array)[] = [];
  while (at < bytes.length) {
    const codes = bytes.subarray(at, (at += 8));
    for (const code of codes) {
      if (code === 0) continue;
      if (code === 253) values.push(bytes.slice(at, (at += 8)));
      else values.push(code === 254 ? new Uint8Array(8).fill(0x20) : code === 255 ? null : code - 100);
    }
  }
  const declared = elements.map((element, index) => ({ ...element, index })).filter(({ width }) => width >= 0);
  const variables: {
    name: string;
    label: string;
    width: number;
    parts: number[][];
    measure: number;
    isLabelled: boolean;
  }[] = [];
  for (let next = 0; next < declared.length;) {
    const first = declared[next]!;
    const width = long.get(first.short) ?? first.width;
    const segments = declared.slice(next, next + (width > 255 ? Math.ceil(width / 252) : 1));
    variables.push({
      name: names.get(first.short) ?? first.short,
      label: first.label,
      width,
      parts: segments.map(({ index, width: own }) =>
        Array.from({ length: Math.max(1, Math.ceil(own / 8)) }, (_, part) => index + part),
      ),
      measure: measures[next] ?? 0,
      isLabelled: labelled.includes(first.index + 1),
    });
    next += segments.length;
  }
  const cases = Array.from({ length: values.length / Math.max(1, elements.length) }, (_, row) => {
    const own = values.slice(row * elements.length, (row + 1) * elements.length);
    return variables.map(({ width, parts }): Cell => {
      if (width === 0) {
        const value = own[parts[0]![0]!]!;
        return value instanceof Uint8Array ? new DataView(value.buffer).getFloat64(0, true) : value;
      }
      const pieces = parts.map((indexes) => Buffer.concat(indexes.map((index) => own[index] as Uint8Array)));
      const whole = pieces.map((piece, segment) => (segment < pieces.length - 1 ? piece.subarray(0, 255) : piece));
      return new TextDecoder().decode(Buffer.concat(whole).subarray(0, width)).trimEnd();
    });
  });
  return { header, variables, cases, labels };
}

type Column = Pick<DataColumn<never>, "name" | "type">;
function written(columns: readonly Column[], rows: readonly (readonly Cell[])[], at = rows.length) {
  const described = columns.map(({ name, type }) => dataColumn<never>(name, type, `What ${name} is`, () => null));
  const writer = sav.open(described, {
    rows: rows.length,
    columns: columns.map((_, column) => ({
      texts: rows.filter((row) => typeof row[column] === "string").length,
      isWhole: true,
      bytes: Math.max(0, ...rows.map((row) => (row[column] == null ? 0 : Buffer.byteLength(String(row[column]))))),
    })),
  });
  const pieces = [writer.start(), writer.rows(rows.slice(0, at)), writer.rows(rows.slice(at)), writer.end()];
  return read(new Uint8Array(Buffer.concat(pieces.map((piece) => Buffer.from(piece as Uint8Array)))));
}

const columns: Column[] = [
  { name: "word", type: "text" },
  { name: "ms", type: "number" },
  { name: "trial", type: "whole number" },
  { name: "is_right", type: "yes/no" },
];

describe("the system file", () => {
  it("is read back by the published format, whatever the cells hold and in whatever pieces they come", () => {
    const text = fc.oneof(
      fc.constant(null),
      fc.string({ unit: "grapheme", maxLength: 40 }),
      fc.constantFrom("x".repeat(254), "é".repeat(127), "潮".repeat(300), "gull ".repeat(120), `${" ".repeat(260)}end`),
    );
    const row = fc.tuple(
      text,
      fc.oneof(
        fc.constant(null),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.integer({ min: -120, max: 200 }),
      ),
      fc.option(fc.integer({ min: -100, max: 300 })),
      fc.constantFrom("yes", "no", null),
    );
    fc.assert(
      fc.property(fc.array(row, { maxLength: 6 }), fc.nat(6), (rows, at) => {
        const { header, variables, cases } = written(columns, rows, at);
        expect(header.cases).toBe(rows.length);
        expect(variables.map(({ name, label }) => [name, label])).toEqual(
          columns.map(({ name }) => [name, `What ${name} is`]),
        );
        expect(cases).toEqual(
          rows.map(([word, ms, trial, right]) => [
            (word ?? "").trimEnd(),
            ms === 0 ? 0 : ms,
            trial,
            right === null ? null : Number(right === "yes"),
          ]),
        );
      }),
      { numRuns: 300 },
    );
  });

  it("knows what is counted, what is named and what is yes or no", () => {
    const { variables, labels } = written(columns, [["gull", 431.25, 3, "yes"]]);
    expect(variables.map(({ measure }) => measure)).toEqual([1, 3, 3, 1]);
    expect(variables.map(({ isLabelled }) => isLabelled)).toEqual([false, false, false, true]);
    expect(labels).toEqual([
      [0, "no"],
      [1, "yes"],
    ]);
  });

  it("keeps texts of a column that should hold numbers, and cuts no character in two", () => {
    expect(written([{ name: "ms", type: "number" }], [[431], ["late"], [null]]).cases).toEqual([
      ["431"],
      ["late"],
      [""],
    ]);
    const long = "潮".repeat(20_000);
    const { cases, variables } = written([{ name: "text", type: "text" }], [[long]]);
    expect(variables[0]?.width).toBe(32_767);
    expect(long.startsWith(String(cases[0]?.[0]))).toBe(true);
    expect(String(cases[0]?.[0])).toHaveLength(10_922);
  });
});
