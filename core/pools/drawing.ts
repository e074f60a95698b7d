import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { blockOrder } from "../order/block-order";
import { orderable, streamOf } from "../order/orderable";
import { partsFor } from "../order/parts";
import { sittingOf } from "../order/seed";
import type { Seeded } from "../order/place";
import { shuffled } from "../random/shuffle";
import { streamFor } from "../random/stream";
import { takeEvenly } from "../random/take";
import { atStart, contextFor } from "../values/context";
import type { Pool } from "../values/pool";
import type { Id, Scalar } from "../values/ref";
import { rowValues, type Column } from "../values/table";
import { eligibleIn, poolIndexOf, type PoolIndex } from "./eligible";
import { listsOf, roundOf } from "./lists";
import { matched, type MatchClass } from "./matching";
import { usedIn, type Placed } from "./placed";
import { byLevel, isFromBefore, turnedBy, wantedInWords, type Slot } from "./slots";
import { drawsIn, levelsOfTasks, type Task } from "./tasks";

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

/** Another attempt at a block, from 2, of a session drawn before. */
export type Again = { block: Id; attempt: number; first: { placed: ReadonlyMap<Id, Placed> } };

/** One try at drawing a session from its pools, or another attempt at one of its blocks. */
export class Drawing {
  readonly #document: StudyDocument;
  readonly #who: Seeded;
  readonly #usedBefore: ReadonlyMap<Id, ReadonlySet<number>>;
  readonly #tried: number;
  readonly #again: Again | undefined;
  readonly #placed = new Map<Id, Placed>();
  readonly #pools: Map<Id, PoolIndex>;
  readonly #lacking: Lacking[] = [];

  constructor(
    document: StudyDocument,
    who: Seeded,
    usedBefore: ReadonlyMap<Id, ReadonlySet<number>>,
    tried: number,
    again?: Again,
  ) {
    this.#document = document;
    this.#who = who;
    this.#usedBefore = usedBefore;
    this.#tried = tried;
    this.#again = again;
    this.#pools = new Map(document.pools.map((each) => [each.id, poolIndexOf(document, each, who.group)]));
  }

  /** `depends`: some draws wait for others, so that another try can fare better. */
  whole(): { placed: ReadonlyMap<Id, Placed>; lacking: Lacking[]; depends: boolean } {
    const sitting = sittingOf(this.#document, this.#who.seed);
    const blocks = partsFor(this.#document, { ...this.#who, sitting }).flatMap(({ part }) => {
      const found = this.#document.parts[part];
      return found?.kind === "block" && drawsIn(found).length > 0 ? [found] : [];
    });
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
    const session = { ...atStart, sitting: sittingOf(this.#document, this.#who.seed) };
    return placed.rows.map((values, index): Slot => {
      const isShown = own.before ? isFromBefore(own.before, values) : null;
      const context = contextFor(
        { study: this.#document, group: this.#who.group, participant: this.#who.participant },
        {
          values: { ...values, ...placed.values[index] },
          session,
        },
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
    const usedBy = new Map<Slot["reach"], ReadonlySet<number>>();
    const list = [...classes].map(([key, own]) => {
      const [first] = own as [Slot];
      const used = usedBy.get(first.reach) ?? usedFor(first);
      usedBy.set(first.reach, used);
      const fit = this.#among(index, first);
      const rows = fit.filter((row) => !used.has(row));
      return { key, own, needs: own.length, rows, isWhole: rows.length === fit.length };
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
      if (alone.length < rows.length || !isWhole || this.#tried > 0 || again) return void rest.push(...rows);
      const turn = roundOf(this.#document, own[0]?.task.block, participant);
      first.push(...takeEvenly([rows], Math.min(needs, rows.length), turn, key(name)));
      rest.push(...rows);
    });
    const others = shuffled([...new Set(rest)], streamFor(...key(participant, "rows", this.#tried, this.#streamEnd())));
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
      const levels = own.balanced === undefined ? [mine] : byLevel(mine, own.balanced);
      const turned = turnedBy(share, levels, orders[listsOf(block).id] ?? 0);
      let from = 0;
      for (const level of levels) {
        shuffled(level, stream).forEach((slot, place) => this.#take(slot, turned[from + place]));
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
      this.#tried,
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

const none: ReadonlySet<number> = new Set();
