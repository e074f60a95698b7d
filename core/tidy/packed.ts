import type { Cell } from "../values/data-column";

/**
 * The cells of one column, one after the other, as they are kept: the same throughout, numbers as they are, or what each row holds
 * by its place in a list of different cells.
 */
export type Unpacked =
  | { one: Cell }
  | { numbers: Float64Array }
  /** `codes` are places in `words`, from 1; 0 is an empty cell. */
  | { words: readonly Cell[]; codes: Uint8Array | Uint16Array | Uint32Array };

/** How the bytes after the first eight are to be read. Numbers that stand here are never given to another meaning. */
const kinds = {
  oneNumber: 0,
  oneWord: 1,
  int16: 2,
  int32: 3,
  float64: 4,
  tenths: 5,
  words8: 6,
  words16: 7,
  words32: 8,
  empty: 9,
};
type Kind = keyof typeof kinds;

/** What stands for an empty cell among whole numbers. */
const [none16, none32] = [-(2 ** 15), -(2 ** 31)];
const headerBytes = 8;

const utf8 = { to: new TextEncoder(), from: new TextDecoder() };

function withHeader(kind: Kind, body: Uint8Array): Uint8Array {
  const whole = new Uint8Array(headerBytes + body.length);
  whole[0] = kinds[kind];
  whole.set(body, headerBytes);
  return whole;
}
const bytesOf = (array: Int16Array | Int32Array | Float64Array | Uint16Array | Uint32Array) =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength);

/** What stands where cells that were there are all empty now; a column that never had any is not kept at all. */
export const noCells: Uint8Array = withHeader("empty", new Uint8Array());

/** Packs the cells of a column; null where all are empty. What is unpacked again is the same, cell by cell; −0 counts as 0. */
export function packed(cells: readonly Cell[]): Uint8Array | null {
  const first = cells[0] ?? null;
  if (cells.every((cell) => cell === null)) return null;
  const isOne = cells.every((cell) => cell === first);
  if (isOne && typeof first === "string") return withHeader("oneWord", utf8.to.encode(first));
  if (cells.every((cell) => typeof cell !== "string")) return packedNumbers(cells, isOne);
  return packedWords(cells);
}

function packedNumbers(cells: readonly (number | null)[], isOne: boolean): Uint8Array {
  if (isOne) return withHeader("oneNumber", bytesOf(Float64Array.of(cells[0] ?? NaN)));
  const within = (least: number) => (cell: number | null) =>
    cell === null || (Number.isInteger(cell) && cell > least && cell < -least);
  if (cells.every(within(none16)))
    return withHeader("int16", bytesOf(Int16Array.from(cells, (cell) => cell ?? none16)));
  if (cells.every(within(none32)))
    return withHeader("int32", bytesOf(Int32Array.from(cells, (cell) => cell ?? none32)));
  const inTenths = (cell: number | null) => {
    if (cell === null) return true;
    const tenths = Math.round(cell * 10);
    return within(none32)(tenths) && tenths / 10 === cell;
  };
  if (cells.every(inTenths))
    return withHeader(
      "tenths",
      bytesOf(Int32Array.from(cells, (cell) => (cell === null ? none32 : Math.round(cell * 10)))),
    );
  return withHeader("float64", bytesOf(Float64Array.from(cells, (cell) => cell ?? NaN)));
}

/** JSON has no infinite numbers. */
const inJson = (cell: Cell) => (typeof cell === "number" && !Number.isFinite(cell) ? { number: String(cell) } : cell);
const outOfJson = (cell: Cell | { number: string }): Cell =>
  typeof cell === "object" && cell !== null ? Number(cell.number) : cell;

function packedWords(cells: readonly Cell[]): Uint8Array {
  const places = new Map<Cell, number>();
  const codes = Uint32Array.from(cells, (cell) => {
    if (cell === null) return 0;
    const known = places.get(cell) ?? places.size + 1;
    places.set(cell, known);
    return known;
  });
  const list = utf8.to.encode(JSON.stringify([...places.keys()].map(inJson)));
  const [kind, narrow]: [Kind, Uint8Array] =
    places.size < 2 ** 8
      ? ["words8", Uint8Array.from(codes)]
      : places.size < 2 ** 16
        ? ["words16", bytesOf(Uint16Array.from(codes))]
        : ["words32", bytesOf(codes)];
  const body = new Uint8Array(narrow.length + list.length);
  body.set(narrow);
  body.set(list, narrow.length);
  return withHeader(kind, body);
}

/** Unpacks the cells of a column that has so many. */
export function unpacked(bytes: Uint8Array, count: number): Unpacked {
  const kind = bytes[0];
  // A copy begins at an address at which any of the arrays may begin; what a database gives may slice itself without copying.
  const body = new Uint8Array(bytes.subarray(headerBytes));
  const words = (codes: Uint8Array | Uint16Array | Uint32Array): Unpacked => ({
    codes,
    words: (JSON.parse(utf8.from.decode(body.subarray(codes.byteLength))) as Cell[]).map(outOfJson),
  });
  const numbers = (from: Int16Array | Int32Array, none: number, of = 1): Unpacked => {
    const made = new Float64Array(from.length);
    for (let at = 0; at < from.length; at++) {
      const value = from[at] as number;
      made[at] = value === none ? NaN : value / of;
    }
    return { numbers: made };
  };
  switch (kind) {
    case kinds.oneNumber:
      return { one: new Float64Array(body.buffer, 0, 1)[0] ?? null };
    case kinds.empty:
      return { one: null };
    case kinds.oneWord:
      return { one: utf8.from.decode(body) };
    case kinds.int16:
      return numbers(new Int16Array(body.buffer, 0, count), none16);
    case kinds.int32:
      return numbers(new Int32Array(body.buffer, 0, count), none32);
    case kinds.tenths:
      return numbers(new Int32Array(body.buffer, 0, count), none32, 10);
    case kinds.float64:
      return { numbers: new Float64Array(body.buffer, 0, count) };
    case kinds.words8:
      return words(new Uint8Array(body.buffer, 0, count));
    case kinds.words16:
      return words(new Uint16Array(body.buffer, 0, count));
    case kinds.words32:
      return words(new Uint32Array(body.buffer, 0, count));
    default:
      throw new Error(`Cells are packed in a way that is not known here: ${kind}.`);
  }
}
