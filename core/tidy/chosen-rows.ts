import type { Cell } from "../values/data-column";
import type { Column } from "./column";
import type { Unpacked } from "./packed";

/** How a cell is compared with what somebody typed. */
export const comparisons = {
  is: "is",
  "is-not": "is not",
  contains: "contains",
  "at-least": "is at least",
  "at-most": "is at most",
  empty: "is empty",
  "not-empty": "is not empty",
} as const;
export type Comparison = keyof typeof comparisons;
export const comparisonNames = Object.keys(comparisons) as Comparison[];
/** Those that need nothing to compare with. */
export const needsNothing = (is: Comparison): boolean => is === "empty" || is === "not-empty";

/** A condition that rows can fulfil: a column by its name. */
export type Condition = { column: string; is: Comparison; value: string };

const plain = (text: string) => text.trim().toLowerCase();

/** Whether a cell fulfils a condition. Numbers are compared as such where both are numbers, else texts without regard to case. */
function test({ is, value }: Pick<Condition, "is" | "value">): (cell: Cell) => boolean {
  const wanted = plain(value);
  const number = wanted === "" ? NaN : Number(wanted);
  const isSame = (cell: Cell) => cell !== null && (typeof cell === "number" ? cell === number : plain(cell) === wanted);
  // What looks like a number in a column of texts is compared as one, too.
  const asNumber = (cell: Cell) => (cell === null || cell === "" ? NaN : Number(cell));
  switch (is) {
    case "is":
      return isSame;
    case "is-not":
      return (cell) => !isSame(cell);
    case "contains":
      return (cell) => cell !== null && plain(String(cell)).includes(wanted);
    case "at-least":
      return (cell) => asNumber(cell) >= number;
    case "at-most":
      return (cell) => asNumber(cell) <= number;
    case "empty":
      return (cell) => cell === null || cell === "";
    case "not-empty":
      return (cell) => cell !== null && cell !== "";
  }
}

/** Rows that fulfil something: a mark for each. */
type Marks = Uint8Array;

function marked(column: Column, passes: (cell: Cell) => boolean): Marks {
  if ("codes" in column) {
    const byCode = Uint8Array.from([null, ...column.words], (cell) => Number(passes(cell)));
    const { codes } = column;
    const marks: Marks = new Uint8Array(codes.length);
    for (let row = 0; row < codes.length; row++) marks[row] = byCode[codes[row] as number] as number;
    return marks;
  }
  const { numbers } = column;
  const marks: Marks = new Uint8Array(numbers.length);
  for (let row = 0; row < numbers.length; row++) {
    const number = numbers[row] as number;
    marks[row] = passes(Number.isNaN(number) ? null : number) ? 1 : 0;
  }
  return marks;
}

/** Marks the rows whose cells fulfil a condition. */
export const marksOf = (column: Column, condition: Pick<Condition, "is" | "value">): Marks =>
  marked(column, test(condition));

/** Whether a cell contains a text, without regard to case, or is the number that it is. What was found of a word is kept. */
export function contains(text: string): (cell: Cell) => boolean {
  const wanted = plain(text);
  const number = wanted === "" ? NaN : Number(wanted);
  const known = new Map<Cell, boolean>();
  return (cell) => {
    if (typeof cell === "number") return cell === number;
    const before = known.get(cell);
    if (before !== undefined) return before;
    const found = cell !== null && plain(cell).includes(wanted);
    known.set(cell, found);
    return found;
  };
}

/** Marks the rows of one session, from a place on, whose cells pass. */
export function markRows(
  marks: Uint8Array,
  cells: Unpacked,
  { from, count }: { from: number; count: number },
  passes: (cell: Cell) => boolean,
): void {
  if ("one" in cells) {
    if (passes(cells.one)) marks.fill(1, from, from + count);
  } else if ("numbers" in cells) {
    for (let row = 0; row < count; row++) if (passes(cells.numbers[row] as number)) marks[from + row] = 1;
  } else {
    const byCode = [false, ...cells.words.map(passes)];
    if (byCode.includes(true))
      for (let row = 0; row < count; row++) if (byCode[cells.codes[row] as number]) marks[from + row] = 1;
  }
}

/** What is looked for: every condition holds, and the row is marked as found. */
export type Sought = {
  conditions: readonly (Pick<Condition, "is" | "value"> & { of: Column })[];
  found?: Uint8Array | undefined;
};

/** The rows, of so many, that are looked for: a mark for each. */
export function marksSought(count: number, { conditions, found }: Sought): Marks {
  const marks: Marks = new Uint8Array(count).fill(1);
  for (const { of, ...condition } of conditions) {
    const own = marksOf(of, condition);
    for (let row = 0; row < count; row++) marks[row] = (marks[row] ?? 0) & (own[row] ?? 0);
  }
  if (found) for (let row = 0; row < count; row++) marks[row] = (marks[row] ?? 0) & (found[row] ?? 0);
  return marks;
}

/** The same by their places, in their order. */
export function rowsSought(count: number, sought: Sought): Uint32Array {
  const marks = marksSought(count, sought);
  let many = 0;
  for (const mark of marks) many += mark;
  const rows = new Uint32Array(many);
  let at = 0;
  for (let row = 0; row < count; row++) if (marks[row] === 1) rows[at++] = row;
  return rows;
}

/** A number for each row by which it is sorted; empty cells come last whichever way. */
function keysOf(column: Column, rows: Uint32Array, isFalling: boolean): Float64Array {
  const turned = isFalling ? -1 : 1;
  const keys = new Float64Array(rows.length);
  if ("numbers" in column) {
    for (let at = 0; at < rows.length; at++) {
      const number = column.numbers[rows[at] as number] as number;
      // Infinity stands for empty ones, after every number.
      keys[at] = Number.isNaN(number)
        ? Infinity
        : Math.max(-Number.MAX_VALUE, Math.min(Number.MAX_VALUE, turned * number));
    }
    return keys;
  }
  const order = column.words
    .map((word, place) => ({ word, place }))
    .sort((a, b) => compared(a.word, b.word))
    .map(({ place }) => place);
  const ranks = new Float64Array(column.words.length + 1).fill(Infinity);
  for (const [rank, place] of order.entries()) ranks[place + 1] = turned * rank;
  for (let at = 0; at < rows.length; at++) keys[at] = ranks[column.codes[rows[at] as number] as number] as number;
  return keys;
}

const collator = new Intl.Collator("en", { numeric: true });
const compared = (a: Cell, b: Cell): number =>
  typeof a === "number" && typeof b === "number" ? a - b : collator.compare(String(a ?? ""), String(b ?? ""));

/**
 * From which to which (not included) of some rows, were they sorted by a column. Rows that are alike in it stay in their order,
 * and empty cells come last. Takes the time of sorting numbers, whatever the page.
 */
export function pageSorted(
  rows: Uint32Array,
  { by, isFalling }: { by: Column; isFalling: boolean },
  from: number,
  to: number,
): Uint32Array {
  const end = Math.min(to, rows.length);
  if (from >= end) return new Uint32Array();
  const keys = keysOf(by, rows, isFalling);
  const sorted = keys.toSorted();
  const [low, high] = [sorted[from] ?? 0, sorted[end - 1] ?? 0];
  // Of those equal to its first so many are left out as are sorted before the page; of those equal to its last, those after it.
  let skip = from - firstAt(sorted, low);
  let room = end - Math.max(from, firstAt(sorted, high));
  const page: { row: number; key: number }[] = [];
  for (let index = 0; index < keys.length; index++) {
    const key = keys[index] as number;
    if (key < low || key > high || (key === low && skip-- > 0) || (key === high && room-- <= 0)) continue;
    page.push({ row: rows[index] ?? 0, key });
  }
  // Sorting keeps the order of what is alike; infinities are alike, too.
  page.sort((a, b) => (a.key === b.key ? 0 : a.key - b.key));
  return Uint32Array.from(page, ({ row }) => row);
}

/** Where a value stands first among sorted ones that hold it. */
function firstAt(sorted: Float64Array, value: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] ?? 0) < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
