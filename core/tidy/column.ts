import type { Cell } from "../values/data-column";
import type { Unpacked } from "./packed";

/** A column of all rows that are looked at: numbers, empty ones NaN, or places in `words`, from 1, empty ones 0. */
export type Column = { numbers: Float64Array } | { words: readonly Cell[]; codes: Uint32Array };

/** Puts a column together out of those of several sessions. */
export class ColumnBuilder {
  #numbers: Float64Array | null;
  #codes: Uint32Array | null = null;
  #places = new Map<Cell, number>();
  #filled = 0;

  constructor(private readonly count: number) {
    this.#numbers = new Float64Array(count).fill(NaN);
  }

  /** The next rows; null where all of them are empty. */
  add(cells: Unpacked | null, count: number): void {
    if (cells === null || ("one" in cells && cells.one === null)) this.#filled += count;
    else if ("one" in cells) {
      const [from, to] = [this.#filled, this.#filled + count];
      if (typeof cells.one === "number" && this.#numbers) this.#numbers.fill(cells.one, from, to);
      else this.#asWords().fill(this.#placeOf(cells.one), from, to);
      this.#filled = to;
    } else if ("numbers" in cells && this.#numbers) {
      this.#numbers.set(cells.numbers, this.#filled);
      this.#filled += count;
    } else {
      const codes = this.#asWords();
      if ("numbers" in cells)
        for (const number of cells.numbers) codes[this.#filled++] = Number.isNaN(number) ? 0 : this.#placeOf(number);
      else {
        const places = [0, ...cells.words.map((word) => this.#placeOf(word))];
        for (let row = 0; row < count; row++) codes[this.#filled + row] = places[cells.codes[row] as number] as number;
        this.#filled += count;
      }
    }
  }

  done(): Column {
    if (this.#numbers) return { numbers: this.#numbers };
    return { words: [...this.#places.keys()], codes: this.#asWords() };
  }

  #placeOf(cell: Cell): number {
    const known = this.#places.get(cell) ?? this.#places.size + 1;
    this.#places.set(cell, known);
    return known;
  }

  #asWords(): Uint32Array {
    if (this.#codes) return this.#codes;
    const codes = new Uint32Array(this.count);
    const numbers = this.#numbers ?? new Float64Array();
    for (let row = 0; row < this.#filled; row++) {
      const number = numbers[row] ?? NaN;
      if (!Number.isNaN(number)) codes[row] = this.#placeOf(number);
    }
    this.#numbers = null;
    this.#codes = codes;
    return codes;
  }
}

/** The cell of a row. */
export function cellAt(column: Column | Unpacked, row: number): Cell {
  if ("one" in column) return column.one;
  if ("numbers" in column) {
    const number = column.numbers[row];
    return number === undefined || Number.isNaN(number) ? null : number;
  }
  const code = column.codes[row] ?? 0;
  return code === 0 ? null : (column.words[code - 1] ?? null);
}

/** A column whose rows are told apart by what they hold: a code for each, from 0, and what codes stand for; empty is one of them. */
export function coded(column: Column): { codes: Uint32Array; cells: Cell[] } {
  if ("codes" in column) return { codes: column.codes, cells: [null, ...column.words] };
  const places = new Map<number, number>();
  const cells: Cell[] = [];
  const codes = new Uint32Array(column.numbers.length);
  for (let row = 0; row < column.numbers.length; row++) {
    const number = column.numbers[row] as number;
    // NaN is found again in a map.
    let place = places.get(number);
    if (place === undefined) {
      place = cells.length;
      places.set(number, place);
      cells.push(Number.isNaN(number) ? null : number);
    }
    codes[row] = place;
  }
  return { codes, cells };
}

/** The numbers of a column, whatever else it holds being empty. */
export const numbersOf = (column: Column): Float64Array =>
  "numbers" in column
    ? column.numbers
    : Float64Array.from(column.codes, (code) => {
        const cell = column.words[code - 1];
        return typeof cell === "number" ? cell : NaN;
      });
