import { itemsIn, trialsInBlock } from "../design/lookup";
import { blockOrder, givenTrials, type BlockOrder, type Orderable } from "../order/block-order";
import type { Id, Scalar } from "../values/ref";
import type { Block } from "../design/block";
import type { Condition } from "../values/condition";
import type { Lasts } from "../design/scene";
import type { StudyDocument } from "../design/document";
import { partsFor, type Orders } from "../order/parts";
import { streamFor, type Stream } from "../random/stream";
import { contextFor, type DrawnElements } from "../values/context";
import { rowValues } from "../values/table";
import { itemKind } from "../items/registry";

export type PlannedTrial = {
  /** Number in the session, from 1. */
  trial: number;
  pass: number;
  row: Id;
  /** The row's place in the table, from 1. */
  rowNumber: number;
  values: Record<Id, Scalar | null>;
  /** Drawn durations of scenes that last a random time, in milliseconds. */
  drawn: Record<Id, number>;
  /** Drawn places of the elements of arrays, by item. */
  placed: DrawnElements;
  /** The value that its sub-block has in common; null without sub-blocks. */
  subBlock: string | null;
};
/** `when`: the part is left out unless this holds when the session comes to it. */
type InOrder = { part: Id; brackets: Id[]; when?: Condition | undefined };
export type PlannedPart =
  | (InOrder & { kind: "page" })
  | (InOrder & { kind: "block"; trials: PlannedTrial[]; order: Pick<BlockOrder, "way" | "breaks"> });
/** Everything that is settled before a participant begins. */
export type Plan = {
  participant: number;
  group: Id;
  orders: Orders;
  seed: string;
  parts: PlannedPart[];
  trialCount: number;
};

const firstOrders: Orders = {};

/**
 * The plan of one participant. Pure: the same document, participant number, seed and group give the same plan on any
 * machine. Every draw has a stream of its own, so that editing one block leaves the order of the others as it was.
 */
export function compile(
  document: StudyDocument,
  participant: number,
  seed: string,
  group: Id,
  orders: Orders = firstOrders,
): Plan {
  let trial = 0;
  const parts: PlannedPart[] = [];
  for (const placed of partsFor(document, group, orders, participant)) {
    const part = document.parts[placed.part];
    if (!part) continue;
    if (part.kind === "page") parts.push({ kind: "page", ...placed });
    else {
      const { trials, order } = blockTrials(document, part, { participant, seed, group, orders }, trial);
      trial += trials.length;
      parts.push({ kind: "block", ...placed, trials, order });
    }
  }
  return { participant, group, orders, seed, parts, trialCount: trial };
}

/** The parts a participant plays, in order, and how many trials that makes, without drawing any of them. */
export function outline(
  document: StudyDocument,
  participant: number,
  group: Id,
  orders: Orders,
): { parts: Id[]; trialCount: number } {
  const parts = partsFor(document, group, orders, participant).flatMap(({ part }) => document.parts[part] ?? []);
  return {
    parts: parts.map(({ id }) => id),
    trialCount: parts.reduce((sum, part) => sum + (part.kind === "block" ? trialsFor(part, participant) : 0), 0),
  };
}

/** The trials of one block alone, as they are in the whole plan. */
export function compileBlock(
  document: StudyDocument,
  block: Block,
  participant: number,
  seed: string,
  group: Id,
  orders: Orders = firstOrders,
): PlannedTrial[] {
  let before = 0;
  for (const { part: id } of partsFor(document, group, orders, participant)) {
    if (id === block.id) return blockTrials(document, block, { participant, seed, group, orders }, before).trials;
    const part = document.parts[id];
    if (part?.kind === "block") before += trialsFor(part, participant);
  }
  return [];
}

/** What decides the order of a block's trials for participants of a group. */
export function orderable(document: StudyDocument, block: Block, group: Id): Orderable {
  const values = new Map<Id, Record<Id, Scalar | null>>();
  return {
    order: block.order,
    rows: block.table.rows,
    valueOf: (row, column) => {
      const known = values.get(row.id) ?? rowValues(document, block.table, row, group);
      values.set(row.id, known);
      return known[column] ?? null;
    },
    nameOf: (column) => block.table.columns.find(({ id }) => id === column)?.name ?? "a column that is gone",
  };
}

/** The trials one participant plays in a block; only given sequences can differ in it. */
function trialsFor(block: Block, participant: number): number {
  if (block.order.method !== "given") return trialsInBlock(block);
  return givenTrials(block.order, block.table.rows, participant).length;
}

type Who = { participant: number; seed: string; group: Id; orders: Orders };

function blockTrials(
  document: StudyDocument,
  block: Block,
  { participant, seed, group, orders }: Who,
  before: number,
): { trials: PlannedTrial[]; order: Pick<BlockOrder, "way" | "breaks"> } {
  const numbers = new Map(block.table.rows.map((row, index) => [row.id, index + 1]));
  const values = new Map(block.table.rows.map((row) => [row.id, rowValues(document, block.table, row, group)]));
  const random = block.scenes.flatMap((scene) =>
    scene.lasts.kind === "random-ms" ? [{ id: scene.id, lasts: scene.lasts }] : [],
  );
  const drawnItems = itemsIn(block).flatMap((item) => {
    const { draw } = itemKind(item.kind);
    return draw ? [{ item, draw }] : [];
  });
  const trials: PlannedTrial[] = [];
  const placedIn = (row: Id, key: readonly (string | number)[], index: number): DrawnElements => {
    const context = contextFor({ study: document, group, participant }, { values: values.get(row) ?? {} });
    return Object.fromEntries(
      drawnItems.map(({ item, draw }) => [item.id, draw(item, context, streamFor(...key, item.kind, item.id, index))]),
    );
  };
  const draw = { seed, participant, block: block.id };
  const { trials: ordered, way, breaks } = blockOrder(orderable(document, block, group), draw, orders[block.id] ?? 0);
  let durations: { id: Id; lasts: RandomMs; stream: Stream }[] = [];
  let passOfDurations = 0;
  for (const { pass, row, subBlock } of ordered) {
    const key = [seed, participant, block.id, pass] as const;
    if (pass !== passOfDurations) {
      durations = random.map(({ id, lasts }) => ({ id, lasts, stream: streamFor(...key, "duration", id) }));
      passOfDurations = pass;
    }
    // The n-th trial of a pass gets the n-th number of its stream, whatever row it has.
    const drawn: Record<Id, number> = {};
    for (const { id, lasts, stream } of durations)
      drawn[id] = lasts.from + lasts.step * stream.whole(0, Math.floor((lasts.to - lasts.from) / lasts.step + 1e-9));
    trials.push({
      trial: before + trials.length + 1,
      pass,
      row: row.id,
      rowNumber: numbers.get(row.id) as number,
      values: values.get(row.id) as Record<Id, Scalar | null>,
      drawn,
      placed: drawnItems.length === 0 ? nothingPlaced : placedIn(row.id, key, trials.length),
      subBlock,
    });
  }
  return { trials, order: { way, breaks } };
}

type RandomMs = Extract<Lasts, { kind: "random-ms" }>;

const nothingPlaced: DrawnElements = {};
