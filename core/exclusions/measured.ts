import { coded, numbersOf, type Column } from "../tidy/column";
import { hiddenOfTrials } from "../tidy/hidden-columns";
import { quantile } from "../stats/quantile";

/** What rules ask of a session beyond its columns. */
export type SessionStanding = { isFinished: boolean; isMarked: boolean; person: string };

/** How trials stand while rules are applied: whether the trial is in, and whether its time is. */
export type Standing = { kept: Uint8Array; timed: Uint8Array };

type Columns = ReadonlyMap<string, Column>;

/** Marks the places at which numbers pass. */
export function markWhere(numbers: ArrayLike<number>, passes: (number: number) => boolean): Uint8Array {
  const marks = new Uint8Array(numbers.length);
  for (let at = 0; at < marks.length; at++) if (passes(numbers[at] as number)) marks[at] = 1;
  return marks;
}

/** Sessions and their trials as rules look at them: one row a session, and the trials of each after those of the one before. */
export class Measured {
  readonly sessions: readonly SessionStanding[];
  /** Where the trials of each session begin, and where the last one's end. */
  readonly starts: Uint32Array;
  readonly trials: number;
  readonly #columns: { trials: Columns; sessions: Columns };
  readonly #numbers = new Map<string, Float64Array>();
  readonly #groups = new Map<string, { group: Int32Array; count: number }>();

  constructor(
    sessions: readonly SessionStanding[],
    starts: Uint32Array,
    columns: { trials: Columns; sessions: Columns },
  ) {
    this.sessions = sessions;
    this.starts = starts;
    this.trials = starts[sessions.length] ?? 0;
    this.#columns = columns;
  }

  /** Whether a table has a column of that name. */
  has(table: "trials" | "sessions", name: string): boolean {
    return this.#columns[table].has(name);
  }

  /** Whether the trials can be told apart by all of these columns; a rule that cannot be applied leaves nothing out. */
  hasAll(names: readonly string[]): boolean {
    return names.every((name) => this.has("trials", name));
  }

  /** A column; all of it empty where there is none. */
  column(table: "trials" | "sessions", name: string): Column {
    const count = table === "trials" ? this.trials : this.sessions.length;
    return this.#columns[table].get(name) ?? { words: [], codes: new Uint32Array(count) };
  }

  /** The numbers of a column of trials; NaN where there is none. */
  numbers(name: string): Float64Array {
    const known = this.#numbers.get(name) ?? numbersOf(this.column("trials", name));
    this.#numbers.set(name, known);
    return known;
  }

  get right(): Float64Array {
    return this.numbers(hiddenOfTrials.right);
  }
  /** Times in milliseconds. */
  get rt(): Float64Array {
    return this.numbers(hiddenOfTrials.rt);
  }

  /** Marks trials whose cell is one of these words. */
  areWord(name: string, is: (word: unknown) => boolean): Uint8Array {
    const { codes, cells } = coded(this.column("trials", name));
    const byCode = Uint8Array.from(cells, (cell) => Number(is(cell)));
    const marks = new Uint8Array(codes.length);
    for (let row = 0; row < codes.length; row++) marks[row] = byCode[codes[row] as number] as number;
    return marks;
  }

  /** Trials that are not practice, shown the first time: by these a session is judged. */
  get judged(): Uint8Array {
    const marks = this.areWord("practice", (word) => word !== "yes");
    const first = this.numbers(hiddenOfTrials.isFirst);
    for (let row = 0; row < marks.length; row++) if (first[row] !== 1) marks[row] = 0;
    return marks;
  }

  /** For each session, the share of marked trials among those by which it is judged; NaN without any. */
  share(marks: Uint8Array): Float64Array {
    const judged = this.judged;
    return this.#bySession((from, to) => {
      let [all, marked] = [0, 0];
      for (let row = from; row < to; row++)
        if (judged[row] === 1) {
          all++;
          marked += marks[row] as number;
        }
      return all === 0 ? NaN : marked / all;
    });
  }

  /** For each session, the share of right answers among judged trials that have one; NaN without any. */
  get rightShares(): Float64Array {
    const [judged, right] = [this.judged, this.right];
    return this.#bySession((from, to) => {
      let [scored, hits] = [0, 0];
      for (let row = from; row < to; row++) {
        const score = right[row] as number;
        if (judged[row] !== 1 || Number.isNaN(score)) continue;
        scored++;
        hits += score;
      }
      return scored === 0 ? NaN : hits / scored;
    });
  }

  /** For each session, the median time of judged trials that were not answered wrong; NaN without any. */
  get medians(): Float64Array {
    const [judged, right, rt] = [this.judged, this.right, this.rt];
    return this.#bySession((from, to) => {
      const times = new Float64Array(to - from);
      let count = 0;
      for (let row = from; row < to; row++)
        if (judged[row] === 1 && right[row] !== 0 && !Number.isNaN(rt[row] as number))
          times[count++] = rt[row] as number;
      return quantile(times.subarray(0, count).sort(), 0.5);
    });
  }

  /** For each session, the greatest number of a column of trials; NaN without any. */
  greatest(name: string): Float64Array {
    const numbers = this.numbers(name);
    return this.#bySession((from, to) => {
      let most = NaN;
      for (let row = from; row < to; row++) {
        const number = numbers[row] as number;
        if (!(number <= most) && !Number.isNaN(number)) most = number;
      }
      return most;
    });
  }

  #bySession(of: (from: number, to: number, session: number) => number): Float64Array {
    const values = new Float64Array(this.sessions.length);
    for (let session = 0; session < values.length; session++)
      values[session] = of(this.starts[session] ?? 0, this.starts[session + 1] ?? 0, session);
    return values;
  }

  /** Trials told apart by who did them and by what some columns hold, or by one of these: a number from 0 for each, and how many there are. */
  groups(byPerson: boolean, columns: readonly string[]): { group: Int32Array; count: number } {
    const key = JSON.stringify([byPerson, columns]);
    const known = this.#groups.get(key);
    if (known) return known;
    const group = new Int32Array(this.trials);
    let count = 1;
    const refine = (codeOf: (row: number) => number) => {
      const places = new Map<number, number>();
      for (let row = 0; row < group.length; row++) {
        const pair = (codeOf(row) + 1) * count + (group[row] as number);
        let place = places.get(pair);
        if (place === undefined) places.set(pair, (place = places.size));
        group[row] = place;
      }
      count = Math.max(1, places.size);
    };
    for (const name of columns) {
      const { codes } = coded(this.column("trials", name));
      refine((row) => codes[row] as number);
    }
    if (byPerson) {
      const numbers = new Map<string, number>();
      const own = new Uint32Array(this.trials);
      for (const [session, { person }] of this.sessions.entries()) {
        const number = numbers.get(person) ?? numbers.size;
        numbers.set(person, number);
        own.fill(number, this.starts[session], this.starts[session + 1]);
      }
      refine((row) => own[row] as number);
    }
    const found = { group, count };
    this.#groups.set(key, found);
    return found;
  }
}
