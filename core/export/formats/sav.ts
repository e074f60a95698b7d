import type { Cell } from "../../values/data-column";
import type { ExportFormat, Measured, WrittenColumn } from "./format";

/*
 * The system file of statistics programs (`.sav`), written after the description of the format in the developers' manual of PSPP:
 * little-endian, UTF-8, its cases compressed by bytecodes. Numbers have their measurement level, yes and no are 1 and 0 with
 * labels, a column's meaning is its label; a missing number is system-missing.
 */

/** Texts are at most so long, in bytes; what is longer is cut at a whole character. */
const mostText = 32_767;
const mostLabel = 252;
/** A text of more than 255 bytes is kept in segments: each holds 255 of its bytes, and is counted as 252. */
const [segment, counted] = [255, 252];
/** Whole numbers from −99 to 151 are one byte. */
const bias = 100;

const utf8 = new TextEncoder();

/** The bytes of a text, at most so many, none of a character that does not fit. */
function bytesWithin(text: string, most: number): Uint8Array {
  const bytes = utf8.encode(text);
  if (bytes.length <= most) return bytes;
  let end = most;
  while (end > 0 && ((bytes[end] ?? 0) & 0xc0) === 0x80) end--;
  return bytes.subarray(0, end);
}

/** Bytes that are written one after the other. */
class Bytes {
  #bytes = new Uint8Array(4096);
  #view = new DataView(this.#bytes.buffer);
  #length = 0;

  #room(more: number): number {
    const at = this.#length;
    if (at + more > this.#bytes.length) {
      const larger = new Uint8Array(Math.max(this.#bytes.length * 2, at + more));
      larger.set(this.#bytes);
      this.#bytes = larger;
      this.#view = new DataView(larger.buffer);
    }
    this.#length += more;
    return at;
  }
  int(...values: number[]): this {
    // Making room may put other bytes in the place of these.
    let at = this.#room(4 * values.length);
    for (const value of values) this.#view.setInt32((at += 4) - 4, value, true);
    return this;
  }
  double(value: number): this {
    const at = this.#room(8);
    this.#view.setFloat64(at, value, true);
    return this;
  }
  byte(value: number): this {
    const at = this.#room(1);
    this.#bytes[at] = value;
    return this;
  }
  /** Bytes, filled up with blanks to a length. */
  text(bytes: Uint8Array | string, length?: number): this {
    const all = typeof bytes === "string" ? utf8.encode(bytes) : bytes;
    const whole = length ?? all.length;
    const at = this.#room(whole);
    this.#bytes.fill(0x20, at, at + whole);
    this.#bytes.set(all.subarray(0, whole), at);
    return this;
  }
  take(): Uint8Array {
    const taken = this.#bytes.slice(0, this.#length);
    this.#length = 0;
    return taken;
  }
}

const roundedUp = (value: number, to: number) => Math.ceil(value / to) * to;

type Variable = {
  column: WrittenColumn;
  short: string;
  /** Width of a text in bytes; 0 for a number. */
  width: number;
};

/** Its segments' widths as they are declared; one that is no very long text has one. */
function segmentsOf(width: number): number[] {
  if (width <= segment) return [width];
  const many = Math.ceil(width / counted);
  return Array.from({ length: many }, (_, at) => (at < many - 1 ? segment : width - at * counted));
}

/** How numbers and texts are shown: kind, width, decimals. */
const shownAs = ({ type }: WrittenColumn, width: number): number =>
  width > 0
    ? (1 << 16) | (Math.min(width, segment) << 8)
    : type === "number"
      ? (5 << 16) | (12 << 8) | 3
      : (5 << 16) | ((type === "yes/no" ? 1 : 8) << 8);

const [nominal, scale] = [1, 3];

function dictionaryOf(variables: readonly Variable[], rows: number): Uint8Array {
  const out = new Bytes();
  const elements = variables.reduce(
    (sum, { width }) => sum + segmentsOf(width).reduce((own, each) => own + Math.max(1, Math.ceil(each / 8)), 0),
    0,
  );
  // The same data give the same bytes: no time of day stands here.
  out.text("$FL2").text("@(#) Lapwing data file", 60).int(2, elements, 1, 0, rows).double(bias);
  out.text("01 Jan 70").text("00:00:00").text("", 64).byte(0).byte(0).byte(0);
  let element = 1;
  const yesOrNo: number[] = [];
  for (const { column, short, width } of variables) {
    if (column.type === "yes/no" && width === 0) yesOrNo.push(element);
    for (const [at, own] of segmentsOf(width).entries()) {
      const label = bytesWithin(column.unit === "" ? column.meaning : `${column.meaning} (${column.unit})`, mostLabel);
      out.int(2, own, at === 0 ? 1 : 0, 0, shownAs(column, own), shownAs(column, own));
      out.text(at === 0 ? short : `${short}${String.fromCharCode(65 + (at % 26))}${Math.floor(at / 26)}`, 8);
      if (at === 0) out.int(label.length).text(label, roundedUp(label.length, 4));
      const parts = Math.max(1, Math.ceil(own / 8));
      for (let part = 1; part < parts; part++) out.int(2, -1, 0, 0, 0, 0).text("", 8);
      element += parts;
    }
  }
  if (yesOrNo.length > 0) {
    out.int(3, 2);
    for (const [value, label] of [
      [0, "no"],
      [1, "yes"],
    ] as const)
      out.double(value).byte(label.length).text(label, 7);
    out.int(4, yesOrNo.length, ...yesOrNo);
  }
  // The machine: whole numbers as they are here, IEEE 754, little-endian, UTF-8; what is missing, the highest and the lowest number.
  out.int(7, 3, 4, 8, 1, 0, 0, -1, 1, 1, 2, 65_001);
  out.int(7, 4, 8, 3).double(-Number.MAX_VALUE).double(Number.MAX_VALUE).double(-1.7976931348623155e308);
  const shown = variables.flatMap(({ column, width }) =>
    segmentsOf(width).map((own) => [
      column.type === "number" || column.type === "whole number" ? (width > 0 ? nominal : scale) : nominal,
      own > 0 ? Math.min(own, 32) : 10,
      own > 0 ? 0 : 1,
    ]),
  );
  out.int(7, 11, 4, shown.length * 3, ...shown.flat());
  const named = utf8.encode(variables.map(({ short, column }) => `${short}=${column.name}`).join("\t"));
  out.int(7, 13, 1, named.length).text(named);
  const long = variables.filter(({ width }) => width > segment);
  if (long.length > 0) {
    const widths = utf8.encode(
      long.map(({ short, width }) => `${short}=${String(width).padStart(5, "0")}\0\t`).join(""),
    );
    out.int(7, 14, 1, widths.length).text(widths);
  }
  out.int(7, 20, 1, 5).text("UTF-8");
  return out.int(999, 0).take();
}

/** Cases in bytecodes: eight codes, then what they stand for, where that is no code of its own. */
class Cases {
  readonly #out = new Bytes();
  #codes: number[] = [];
  readonly #values = new Bytes();

  #code(code: number): void {
    this.#codes.push(code);
    if (this.#codes.length === 8) this.#flush();
  }
  #flush(): void {
    for (let at = 0; at < 8; at++) this.#out.byte(this.#codes[at] ?? 0);
    this.#out.text(this.#values.take());
    this.#codes = [];
  }
  number(value: number | null): void {
    if (value === null || !Number.isFinite(value)) return this.#code(255);
    if (Number.isInteger(value) && value > -bias && value <= 251 - bias) return this.#code(value + bias);
    this.#values.double(value);
    this.#code(253);
  }
  text(bytes: Uint8Array, width: number): void {
    let from = 0;
    for (const own of segmentsOf(width)) {
      const held = bytes.subarray(from, from + Math.min(own, segment));
      from += segment;
      for (let at = 0; at < own; at += 8) {
        const part = held.subarray(at, at + 8);
        if (part.every((byte) => byte === 0x20)) this.#code(254);
        else {
          this.#values.text(part, 8);
          this.#code(253);
        }
      }
    }
  }
  take(): Uint8Array {
    return this.#out.take();
  }
  end(): Uint8Array {
    if (this.#codes.length > 0) this.#flush();
    return this.#out.take();
  }
}

const isNumeric = (column: WrittenColumn, { texts }: Measured["columns"][number]) =>
  column.type === "yes/no" || (column.type !== "text" && texts === 0);

const numberOf = (column: WrittenColumn, cell: Cell): number | null =>
  column.type === "yes/no" ? (cell === null ? null : cell === "yes" ? 1 : 0) : typeof cell === "number" ? cell : null;

/** What has to be known of a table before it is written: no rows, where nothing was measured. */
const nothing: Measured = { rows: 0, columns: [] };

export const sav: ExportFormat = {
  says: "as system files of statistics programs, .sav",
  written:
    "a system file in UTF-8, with variable labels, value labels and measurement levels; yes and no are 1 and 0, a missing number is system-missing, a missing text is empty",
  extension: "sav",
  mime: "application/octet-stream",
  isMeasured: true,
  open: (columns, measured = nothing) => {
    const variables = columns.map((column, at): Variable => {
      const own = measured.columns[at] ?? { texts: 0, bytes: 0, isWhole: true };
      const width = isNumeric(column, own) ? 0 : Math.min(mostText, Math.max(1, own.bytes));
      return { column, short: `V${at + 1}`, width };
    });
    const cases = new Cases();
    return {
      start: () => dictionaryOf(variables, measured.rows),
      rows: (rows) => {
        for (const cells of rows)
          for (const [at, { column, width }] of variables.entries()) {
            const cell = cells[at] ?? null;
            if (width === 0) cases.number(numberOf(column, cell));
            else cases.text(cell === null ? new Uint8Array() : bytesWithin(String(cell), width), width);
          }
        return cases.take();
      },
      end: () => cases.end(),
    };
  },
};
