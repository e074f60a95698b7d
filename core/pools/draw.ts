import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { blockOrder } from "../order/block-order";
import { orderable, streamOf } from "../order/orderable";
import { partsFor, type Orders } from "../order/parts";
import { keepLast } from "../random/keep-last";
import { shuffled } from "../random/shuffle";
import { streamFor } from "../random/stream";
import { takeEvenly } from "../random/take";
import { contextFor } from "../values/context";
import type { OwnRow } from "../values/draws";
import type { Pool } from "../values/pool";
import type { Id, Scalar } from "../values/ref";
import { rowValues, type Column, type RowValues } from "../values/table";
import { eligibleIn, type PoolIndex, poolIndexOf } from "./eligible";
import { listsOf, roundOf } from "./lists";
import { matched, type MatchClass } from "./matching";
import { drawsIn, levelsOfTasks, type Task } from "./tasks";

/*
 * What is shown is drawn from pools for a whole session at once, so that no row comes twice within what is asked. Columns
 * that depend on what others drew come after those; all else of a pool is one matching of its rows with trials.
 */

/** Whose session it is. */
export type DrawnFor = { participant: number; seed: string; group: Id; orders: Orders };

/** What a trial takes from pools, by column; null where no row was left. */
export type Drawn = Readonly<Record<Id, Scalar | null>>;

/** Trials that need rows and do not get them. `wanted` says of what kind, by the pool's columns. */
export type Lacking = {
  pool: Id;
  block: Id;
  column: Id;
  /** Conditions of the trials that share the shortage, one each. */
  wanted: string[];
  needs: number;
  has: number;
  isProven: boolean;
};

/** The trials of a block as they are ordered, with what each takes from pools. */
export type Placed = {
  block: Block;
  rows: RowValues[];
  /** Rows of pools, by index, for each trial, by column. */
  taken: Map<Id, number>[];
  /** What stands in the columns. */
  values: Record<Id, Scalar | null>[];
};

/** A session's draws from pools, block by block. */
export type SessionDraws = { placed: ReadonlyMap<Id, Placed>; lacking: Lacking[] };

/** Draws anew so often where what was drawn first leaves too little for what depends on it. */
const tries = 30;

const sessions = new WeakMap<StudyDocument, ReturnType<typeof keepLast<SessionDraws>>>();

/** What a session draws from pools; kept for those asked for last. `sitting` counts from 1, `seedIn` gives the seed of each. */
export function sessionDraws(document: StudyDocument, who: DrawnFor, earlier: readonly string[]): SessionDraws {
  const kept = sessions.get(document) ?? keepLast<SessionDraws>(12);
  sessions.set(document, kept);
  return kept(JSON.stringify([who.participant, who.seed, who.group, who.orders]), () => {
    const before = earlier.map((seed, index) => sessionDraws(document, { ...who, seed }, earlier.slice(0, index)));
    const usedBefore = unionOf(before.flatMap(({ placed }) => [...placed.values()]));
    return drawn(document, who, usedBefore);
  });
}

/** The rows of pools that a block uses, by pool. */
export function usedIn({ block, taken }: Placed): Map<Id, Set<number>> {
  const used = new Map<Id, Set<number>>();
  for (const { column, own } of drawsIn(block)) {
    const rows = used.get(own.pool) ?? new Set<number>();
    used.set(own.pool, rows);
    for (const each of taken) {
      const row = each.get(column.id);
      if (row !== undefined) rows.add(row);
    }
  }
  return used;
}

function unionOf(all: readonly Placed[]): Map<Id, Set<number>> {
  const union = new Map<Id, Set<number>>();
  for (const placed of all)
    for (const [pool, rows] of usedIn(placed)) {
      const there = union.get(pool) ?? new Set<number>();
      union.set(pool, there);
      for (const row of rows) there.add(row);
    }
  return union;
}

function drawn(document: StudyDocument, who: DrawnFor, usedBefore: Map<Id, Set<number>>): SessionDraws {
  let best: SessionDraws | null = null;
  for (let attempt = 0; attempt < tries; attempt++) {
    const found = new Drawing(document, who, usedBefore, attempt).whole();
    if (!best || found.lacking.length < best.lacking.length) best = found;
    // Only what depends on other draws can fare better another time.
    if (found.lacking.length === 0 || !found.depends) break;
  }
  return best as SessionDraws;
}

/** What a later attempt at a block takes: the rows of the first again as far as they fit, and none that another block has. */
export function attemptDraws(
  document: StudyDocument,
  who: DrawnFor,
  first: SessionDraws,
  block: Id,
  attempt: number,
): readonly Drawn[] | null {
  if (!first.placed.has(block)) return null;
  const drawing = new Drawing(document, who, new Map(), 0, { block, attempt, first });
  return drawing.whole().placed.get(block)?.values ?? null;
}

type Again = { block: Id; attempt: number; first: SessionDraws };

class Drawing {
  readonly #document: StudyDocument;
  readonly #who: DrawnFor;
  readonly #usedBefore: ReadonlyMap<Id, ReadonlySet<number>>;
  readonly #try: number;
  readonly #again: Again | undefined;
  readonly #placed = new Map<Id, Placed>();
  readonly #pools: Map<Id, PoolIndex>;
  readonly #lacking: Lacking[] = [];

  constructor(
    document: StudyDocument,
    who: DrawnFor,
    usedBefore: ReadonlyMap<Id, ReadonlySet<number>>,
    attempt: number,
    again?: Again,
  ) {
    this.#document = document;
    this.#who = who;
    this.#usedBefore = usedBefore;
    this.#try = attempt;
    this.#again = again;
    this.#pools = new Map(document.pools.map((each) => [each.id, poolIndexOf(document, each, who.group)]));
  }

  whole(): SessionDraws & { depends: boolean } {
    const blocks = partsFor(this.#document, this.#who.group, this.#who.orders, this.#who.participant).flatMap(
      ({ part }) => {
        const found = this.#document.parts[part];
        return found?.kind === "block" && drawsIn(found).length > 0 ? [found] : [];
      },
    );
    const own = this.#again ? blocks.filter(({ id }) => id === this.#again?.block) : blocks;
    for (const block of own) this.#placed.set(block.id, this.#place(block));
    for (const [id, placed] of this.#again?.first.placed ?? []) if (!this.#placed.has(id)) this.#placed.set(id, placed);
    const levels = levelsOfTasks(own);
    for (const tasks of levels) this.#level(tasks);
    for (const block of own) this.#fill(block);
    return { placed: this.#placed, lacking: this.#lacking, depends: levels.length > 1 };
  }

  #place(block: Block): Placed {
    const { participant, seed, group, orders } = this.#who;
    const again = this.#again?.block === block.id ? this.#again.attempt : 1;
    const key = { seed, participant, block: streamOf(block, again) };
    const { trials } = blockOrder(orderable(this.#document, block, group), key, orders[block.id] ?? 0);
    return {
      block,
      rows: trials.map(({ row }) => rowValues(this.#document, block.table, row, group)),
      taken: trials.map(() => new Map()),
      values: trials.map(() => ({})),
    };
  }

  #usedOf(block: Id, pool: Id): ReadonlySet<number> {
    const placed = this.#placed.get(block);
    return (placed && usedIn(placed).get(pool)) ?? none;
  }

  /** All that is drawn without waiting for one another: whole sessions first, then blocks, then single trials. */
  #level(tasks: readonly Task[]): void {
    const slots = tasks.flatMap((task) => this.#slotsOf(task));
    for (const pool of this.#pools.values()) {
      const mine = slots.filter(({ task }) => task.own.pool === pool.pool.id);
      const ofSession = mine.filter(({ reach }) => reach === "session" || reach === "sittings");
      if (ofSession.length > 0) this.#pot(pool, ofSession, (slot) => this.#usedBySession(pool, slot));
      for (const id of new Set(mine.map(({ task }) => task.block.id))) {
        const ofBlock = mine.filter(({ task, reach }) => task.block.id === id && reach === "block");
        const used = this.#usedOf(id, pool.pool.id);
        if (ofBlock.length > 0) this.#pot(pool, ofBlock, () => used);
      }
      const ofTrials = new Map<string, Slot[]>();
      for (const slot of mine.filter(({ reach }) => reach === "trial")) {
        const key = `${slot.task.block.id} ${slot.task.column.id}`;
        ofTrials.set(key, [...(ofTrials.get(key) ?? []), slot]);
      }
      for (const each of ofTrials.values()) this.#alone(pool, each);
    }
  }

  #usedBySession({ pool }: PoolIndex, { reach }: Slot): ReadonlySet<number> {
    const sets = [...this.#placed.keys()].map((id) => this.#usedOf(id, pool.id));
    if (reach === "sittings") sets.push(this.#usedBefore.get(pool.id) ?? none);
    return sets.every(({ size }) => size === 0) ? none : new Set(sets.flatMap((each) => [...each]));
  }

  #slotsOf(task: Task): Slot[] {
    const placed = this.#placed.get(task.block.id) as Placed;
    const { own } = task;
    return placed.rows.map((values, index): Slot => {
      const isShown = own.before ? isFromBefore(own.before, values) : null;
      const context = contextFor(
        { study: this.#document, group: this.#who.group, participant: this.#who.participant },
        { values: { ...values, ...placed.values[index] } },
      );
      const wanted = eligibleIn(this.#pools.get(own.pool), own.where, context);
      // What was shown before can come once more, though only once here.
      const reach = isShown && own.once !== "trial" ? "block" : own.once;
      return { task, index, values, isShown, reach, ...wanted };
    });
  }

  /** Gives rows to trials so that none comes twice among them. */
  #pot(index: PoolIndex, slots: readonly Slot[], usedFor: (slot: Slot) => ReadonlySet<number>): void {
    const classes = new Map<string, Slot[]>();
    for (const slot of slots) {
      const key = `${slot.key} ${slot.isShown === null ? "" : `${slot.task.own.before?.block} ${slot.isShown}`} ${slot.reach === "sittings"}`;
      const there = classes.get(key);
      if (there) there.push(slot);
      else classes.set(key, [slot]);
    }
    const list = [...classes].map(([key, own]) => {
      const [first] = own as [Slot];
      const used = usedFor(first);
      const rows = this.#among(index, first).filter((row) => !used.has(row));
      return { key, own, needs: own.length, rows, isWhole: rows.length === this.#among(index, first).length };
    });
    const { given, shortages, isProven } = matched(list, this.#preferred(index, list));
    list.forEach(({ key, own }, at) => this.#hand(index.pool, key, own, given[at] ?? []));
    for (const { classes: short, needs, has } of shortages) {
      const [first] = short.flatMap((each) => list[each]?.own[0] ?? []);
      if (!first) continue;
      this.#lacking.push({
        pool: index.pool.id,
        block: first.task.block.id,
        column: first.task.column.id,
        wanted: short.flatMap((each) => {
          const slot = list[each]?.own[0];
          return slot ? [wantedInWords(slot, index)] : [];
        }),
        needs,
        has,
        isProven: isProven && !list.some(({ own }) => own.some(({ task }) => task.waits)),
      });
    }
  }

  /** The rows that fit a trial, of those that were shown in a block before or were not. */
  #among(index: PoolIndex, { rows, isShown, task }: Slot): readonly number[] {
    if (isShown === null || !task.own.before) return rows;
    const shown = this.#usedOf(task.own.before.block, index.pool.id);
    return rows.filter((row) => shown.has(row) === isShown);
  }

  /** The rows in the order in which they are to be used: over participants each comes equally often. */
  #preferred(index: PoolIndex, list: readonly (MatchClass & { key: string; own: Slot[]; isWhole: boolean })[]) {
    const { participant, seed } = this.#who;
    const key = (...more: (string | number)[]) => [seed, "pool", index.pool.id, ...more];
    const takers = new Map<number, number[]>();
    list.forEach(({ rows }, at) => {
      for (const row of rows) takers.set(row, [...(takers.get(row) ?? []), at]);
    });
    const first: number[] = [];
    const rest: number[] = [];
    const firstTime = this.#again?.first.placed.get(this.#again.block);
    const again = firstTime && usedIn(firstTime).get(index.pool.id);
    list.forEach(({ key: name, rows, needs, own, isWhole }) => {
      const alone = rows.filter((row) => takers.get(row)?.length === 1);
      if (alone.length < rows.length || !isWhole || this.#try > 0 || again) return void rest.push(...rows);
      const turn = roundOf(this.#document, own[0]?.task.block, participant);
      first.push(...takeEvenly([rows], Math.min(needs, rows.length), turn, key(name)));
      rest.push(...rows);
    });
    const others = shuffled([...new Set(rest)], streamFor(...key(participant, "rows", this.#try, this.#streamEnd())));
    const preferred = again ? [...others.filter((row) => again.has(row)), ...others] : [...first, ...others];
    return [...new Set(preferred)];
  }

  #streamEnd = () => (this.#again ? `${this.#again.block} attempt ${this.#again.attempt}` : "");

  /** Spreads the rows of a class over its trials. */
  #hand(pool: Pool, key: string, slots: readonly Slot[], rows: readonly number[]): void {
    const { participant, seed, orders } = this.#who;
    const round = roundOf(this.#document, slots[0]?.task.block, participant);
    // The same circle for all participants whose lists are turned against each other.
    const circle = shuffled(
      [...rows].sort((a, b) => a - b),
      streamFor(seed, "pool", pool.id, key, "circle", round),
    );
    const byTask = new Map<Task, Slot[]>();
    for (const slot of slots) byTask.set(slot.task, [...(byTask.get(slot.task) ?? []), slot]);
    let at = 0;
    for (const [{ block, column, own }, mine] of byTask) {
      const share = circle.slice(at, at + mine.length);
      at += mine.length;
      const stream = streamFor(seed, participant, "pool", pool.id, block.id, column.id, key, this.#streamEnd());
      const inOrder = own.balanced === undefined ? [shuffled(mine, stream)] : byLevel(mine, own.balanced);
      const sizes = inOrder.map(({ length }) => length);
      const isEven = sizes.every((size) => size === sizes[0]);
      const list = orders[listsOf(block).id] ?? 0;
      const turned =
        own.balanced === undefined
          ? 0
          : isEven
            ? list * (sizes[0] ?? 0)
            : Math.floor((list * share.length) / sizes.length);
      const turnedShare = share.map((_, place) => share[(place + turned) % share.length] as number);
      let from = 0;
      for (const level of inOrder) {
        const order = own.balanced === undefined ? level : shuffled(level, stream);
        order.forEach((slot, place) => this.#take(slot, turnedShare[from + place]));
        from += level.length;
      }
    }
  }

  /** Rows that may come again in the block, only not twice in one trial. */
  #alone(index: PoolIndex, slots: readonly Slot[]): void {
    const { participant, seed } = this.#who;
    const [first] = slots as [Slot];
    const { block, column } = first.task;
    const stream = streamFor(
      seed,
      participant,
      "pool",
      index.pool.id,
      block.id,
      column.id,
      this.#try,
      this.#streamEnd(),
    );
    let none = 0;
    for (const slot of slots) {
      const inTrial = this.#inTrial(slot, index);
      const fit = this.#among(index, slot);
      const rows = inTrial.length === 0 ? fit : fit.filter((row) => !inTrial.includes(row));
      const picked = rows.length === 0 ? undefined : rows[stream.whole(0, rows.length - 1)];
      if (picked === undefined) none++;
      this.#take(slot, picked);
    }
    if (none > 0)
      this.#lacking.push({
        pool: index.pool.id,
        block: block.id,
        column: column.id,
        wanted: [wantedInWords(first, index)],
        needs: none,
        has: 0,
        isProven: !first.task.waits,
      });
  }

  /** The rows of the pool that the trial has already. */
  #inTrial({ task: { block }, index }: Slot, { pool }: PoolIndex): number[] {
    const taken = this.#placed.get(block.id)?.taken[index];
    return drawsIn(block).flatMap(({ column, own }) => (own.pool === pool.id ? (taken?.get(column.id) ?? []) : []));
  }

  #take({ task, index }: Slot, row: number | undefined): void {
    const placed = this.#placed.get(task.block.id) as Placed;
    const values = placed.values[index] as Record<Id, Scalar | null>;
    if (row !== undefined) placed.taken[index]?.set(task.column.id, row);
    // Columns that wait for this one see what it drew.
    for (const column of task.block.table.columns)
      if (
        column.id === task.column.id ||
        (column.draws && "with" in column.draws && column.draws.with === task.column.id)
      )
        values[column.id] = this.#read(task, column, row);
  }

  #read(task: Task, { draws }: Column, row: number | undefined): Scalar | null {
    if (row === undefined || !draws) return null;
    const { takes } = draws;
    if (takes.is === "value") return this.#pools.get(task.own.pool)?.values[row]?.[takes.column] ?? null;
    const shown = task.own.before && this.#whereShown(task.own.before.block, task.own.pool, row);
    if (!shown) return null;
    return takes.is === "position" ? shown.index + 1 : (shown.values[takes.column] ?? null);
  }

  #whereShown(block: Id, pool: Id, row: number): { index: number; values: Record<Id, Scalar | null> } | null {
    const placed = this.#placed.get(block);
    if (!placed) return null;
    const columns = drawsIn(placed.block).filter(({ own }) => own.pool === pool);
    const index = placed.taken.findIndex((taken) => columns.some(({ column }) => taken.get(column.id) === row));
    return index < 0 ? null : { index, values: { ...placed.rows[index], ...placed.values[index] } };
  }

  /** Null where nothing was drawn for a column. */
  #fill({ id, table }: Block): void {
    for (const values of this.#placed.get(id)?.values ?? [])
      for (const { id: column, draws } of table.columns) if (draws) values[column] ??= null;
  }
}

type Slot = {
  task: Task;
  /** Which trial of the block, from 0. */
  index: number;
  values: RowValues;
  isShown: boolean | null;
  reach: OwnRow["once"];
  key: string;
  rows: readonly number[];
};

const none: ReadonlySet<number> = new Set();

const isFromBefore = ({ shown }: NonNullable<OwnRow["before"]>, values: RowValues): boolean =>
  typeof shown === "boolean" ? shown : String(values[shown.column] ?? "") === String(shown.is);

/** Trials by their level of a column, levels in a fixed order. */
function byLevel(slots: readonly Slot[], column: Id): Slot[][] {
  const levels = new Map<string, Slot[]>();
  for (const slot of slots) {
    const level = String(slot.values[column] ?? "");
    levels.set(level, [...(levels.get(level) ?? []), slot]);
  }
  return [...levels].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, own]) => own);
}

function wantedInWords({ isShown, key }: Slot, index: PoolIndex): string {
  const name = (column: Id) =>
    index.pool.table.columns.find(({ id }) => id === column)?.name ?? "a column that is gone";
  const conditions = (JSON.parse(key) as [Id, number | null, Scalar | null][]).map(([column, within, to]) =>
    within === null ? `${name(column)} ${to ?? "empty"}` : `${name(column)} within ${within} of ${to ?? "nothing"}`,
  );
  if (isShown !== null) conditions.push(isShown ? "shown before" : "not shown before");
  return conditions.join(", ");
}
