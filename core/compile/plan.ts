import { itemsIn, trialsInBlock } from "../design/lookup";
import { blockOrder, givenTrials, type BlockOrder, type OrderedTrial } from "../order/block-order";
import { orderable, streamOf } from "../order/orderable";
import { planForm, type PlannedForm } from "./forms";
import { hasPlace, type Seeded } from "../order/place";
import { openingOf } from "../order/opening";
import { sittingNumbered } from "../design/sittings";
import type { Id, Scalar } from "../values/ref";
import type { Block } from "../design/block";
import type { Condition } from "../values/condition";
import type { Lasts } from "../design/scene";
import type { StudyDocument } from "../design/document";
import { isInSitting, partsFor, type Orders, type PartsOf } from "../order/parts";
import { sittingOf } from "../order/seed";
import { streamFor, type Stream } from "../random/stream";
import { atStart, contextFor, type DrawnElements } from "../values/context";
import { rowValues } from "../values/table";
import { itemKind } from "../items/registry";

export type PlannedTrial = {
  /** Number in the session, from 1. */
  trial: number;
  pass: number;
  row: Id;
  /** The row's number in the table, from 1. */
  rowNumber: number;
  values: Record<Id, Scalar | null>;
  /** Drawn durations of scenes that last a random time, in milliseconds. */
  drawn: Record<Id, number>;
  /** Drawn positions of the elements of arrays, by item. */
  placed: DrawnElements;
  /** The value that its sub-block has in common; null without sub-blocks. */
  subBlock: string | null;
  /** What was drawn from pools for it, by column; also among `values`. */
  fromPools?: Readonly<Record<Id, Scalar | null>>;
  /** Values of columns that follow the answers, as they were settled for this trial; also among `values`. */
  settled?: Readonly<Record<Id, number>>;
};
/** `when`: the part is left out unless this holds when the session comes to it. */
type InOrder = { part: Id; brackets: Id[]; when?: Condition | undefined };
export type PlannedPart =
  | (InOrder & { kind: "page"; form: PlannedForm })
  | (InOrder & { kind: "block"; trials: PlannedTrial[]; order: Pick<BlockOrder, "way" | "breaks"> });
/** Everything that is settled before a participant begins. */
export type Plan = {
  participant: number;
  /** Where the participant stands among all who began, from 1. */
  entered: number;
  group: Id;
  orders: Orders;
  seed: string;
  /** Which sitting of theirs it is, from 1: the seed tells. */
  sitting: number;
  parts: PlannedPart[];
  /** How many of them are played before places are given. */
  opening: number;
  /** How long the whole session is; before it has its place, as it is in the first group. */
  trialCount: number;
  partCount: number;
};

const firstOrders: Orders = {};

/** Gives what the trials of an attempt at a block take from pools, in their order; null where none of its columns draws. */
export type DrawPools = (
  document: StudyDocument,
  who: Seeded,
  block: Block,
  attempt: number,
) => readonly Readonly<Record<Id, Scalar | null>>[] | null;

/**
 * The plan of one participant. Pure: the same document, participant number, seed and group give the same plan on any
 * machine. Every draw has a stream of its own, so that editing one block leaves the order of the others as it was.
 * `entered` says where the participant stands among all who began, from 1: the pages before places are given are drawn by it;
 * without a place (`noPlace`) the plan is made of these alone. What draws from `pools` is handed in, since studies without
 * pools do without it. Whether the study asks for too much is judged before.
 */
export function compileWith(
  pools: DrawPools,
  document: StudyDocument,
  participant: number,
  seed: string,
  group: Id,
  orders: Orders = firstOrders,
  entered = participant,
): Plan {
  const sitting = sittingOf(document, seed);
  const opening = openingOf(document).filter((node) => isInSitting(node, sittingNumbered(document, sitting))).length;
  let trial = 0;
  const parts: PlannedPart[] = [];
  for (const placed of partsFor(document, { group, orders, participant, sitting })) {
    const part = document.parts[placed.part];
    if (!part) continue;
    const drawnFor = parts.length < opening ? entered : participant;
    if (part.kind === "page") parts.push({ kind: "page", ...placed, form: planForm(part, seed, drawnFor) });
    else {
      const { rows, order, at } = blockTrials(pools, document, part, { participant, seed, group, orders }, trial);
      const trials = rows.map((_, index) => at(index));
      trial += trials.length;
      parts.push({ kind: "block", ...placed, trials, order });
    }
  }
  const isPlaced = hasPlace({ participant });
  const whole = isPlaced ? { trialCount: trial, parts } : outlineOf(document, { participant, group, orders, sitting });
  const { trialCount } = whole;
  const { length: partCount } = whole.parts;
  return { participant, entered, group, orders, seed, sitting, parts, opening, trialCount, partCount };
}

/**
 * The parts a participant plays, in order, and how many trials that makes, without drawing any of them; without a place
 * those of a participant in the first group.
 */
export function outlineOf(document: StudyDocument, who: PartsOf): { parts: Id[]; trialCount: number } {
  const { participant } = who;
  if (!hasPlace({ participant }))
    return outlineOf(document, { ...who, participant: 1, group: document.groups[0]?.id ?? who.group });
  const parts = partsFor(document, who).flatMap(({ part }) => document.parts[part] ?? []);
  return {
    parts: parts.map(({ id }) => id),
    trialCount: parts.reduce((sum, part) => sum + (part.kind === "block" ? trialsFor(part, participant) : 0), 0),
  };
}

/** One participant's trials of a block alone, each as it is in the whole plan; `null` where the participant has no such block. */
export function compileBlockWith(
  pools: DrawPools,
  document: StudyDocument,
  block: Block,
  participant: number,
  seed: string,
  group: Id,
  orders: Orders = firstOrders,
): BlockTrials | null {
  let before = 0;
  const sitting = sittingOf(document, seed);
  for (const { part: id } of partsFor(document, { group, orders, participant, sitting })) {
    if (id === block.id) return blockTrials(pools, document, block, { participant, seed, group, orders }, before);
    const part = document.parts[id];
    if (part?.kind === "block") before += trialsFor(part, participant);
  }
  return null;
}

/**
 * The trials of another attempt at a block, from 2, as the participant of a plan has them: drawn anew, and numbered as those
 * of the first.
 */
export function compileAttempt(
  pools: DrawPools,
  document: StudyDocument,
  plan: Plan,
  part: Id,
  attempt: number,
): PlannedTrial[] {
  const block = document.parts[part];
  const planned = plan.parts.find((each) => each.part === part);
  if (block?.kind !== "block" || planned?.kind !== "block") return [];
  const first = planned.trials[0]?.trial ?? 1;
  const { rows, at } = blockTrials(pools, document, block, plan, first - 1, attempt);
  return rows.map((_, index) => at(index));
}

/** The trials one participant plays in a block; only given sequences can differ in it. */
function trialsFor(block: Block, participant: number): number {
  if (block.order.method !== "given") return trialsInBlock(block);
  return givenTrials(block.order, block.table.rows, participant).length;
}

/** The trials of a block, whose order is drawn; each is made when it is asked for. */
export type BlockTrials = {
  /** Number in the session of the first. */
  first: number;
  /** The row of each, in their order. */
  rows: Id[];
  order: Pick<BlockOrder, "way" | "breaks">;
  /** The trial at an index from 0; asking for them one after the other costs least. */
  at: (index: number) => PlannedTrial;
};

function blockTrials(
  pools: DrawPools,
  document: StudyDocument,
  block: Block,
  { participant, seed, group, orders }: Seeded,
  before: number,
  attempt = 1,
): BlockTrials {
  const drawnFor = streamOf(block, attempt);
  const draw = { seed, participant, block: drawnFor };
  const { trials: ordered, way, breaks } = blockOrder(orderable(document, block, group), draw, orders[block.id] ?? 0);
  const random = block.scenes.flatMap((scene) =>
    scene.lasts.kind === "random-ms" ? [{ id: scene.id, lasts: scene.lasts }] : [],
  );
  const placed = placedIn(document, block, { participant, seed, group }, drawnFor);
  const durations = drawnDurations(random, (index) => ordered[index]?.pass ?? 0, [seed, participant, drawnFor]);
  const fromPools = pools(document, { participant, seed, group, orders }, block, attempt);
  let numbers: Map<Id, number> | null = null;
  const at = (index: number): PlannedTrial => {
    const { pass, row, subBlock } = ordered[index] as OrderedTrial;
    numbers ??= new Map(block.table.rows.map(({ id }, position) => [id, position + 1]));
    const drawn = fromPools?.[index];
    const typed = rowValues(document, block.table, row, group);
    const values = drawn ? { ...typed, ...drawn } : typed;
    return {
      trial: before + index + 1,
      pass,
      row: row.id,
      rowNumber: numbers.get(row.id) as number,
      values,
      drawn: durations(index),
      placed: placed(values, pass, index),
      subBlock,
      ...(drawn ? { fromPools: drawn } : {}),
    };
  };
  return { first: before + 1, rows: ordered.map(({ row }) => row.id), order: { way, breaks }, at };
}

/** Draws where the elements of arrays are in a trial with these values, by its pass and its index in the block. */
function placedIn(
  study: StudyDocument,
  block: Block,
  { participant, seed, group }: Omit<Seeded, "orders">,
  drawnFor: string,
): (values: PlannedTrial["values"], pass: number, index: number) => DrawnElements {
  const drawnItems = itemsIn(block).flatMap((item) => {
    const { draw } = itemKind(item.kind);
    return draw ? [{ item, draw }] : [];
  });
  if (drawnItems.length === 0) return () => nothingPlaced;
  const session = { ...atStart, sitting: sittingOf(study, seed) };
  return (values, pass, index) => {
    const context = contextFor({ study, group, participant }, { values, isPractice: block.practice, session });
    const key = [seed, participant, drawnFor, pass] as const;
    return Object.fromEntries(
      drawnItems.map(({ item, draw }) => [item.id, draw(item, context, streamFor(...key, item.kind, item.id, index))]),
    );
  };
}

/** A planned trial with other values of some columns, and with what is drawn of them. `index`: its place among those of its attempt as planned. */
export function withSettled(
  document: StudyDocument,
  block: Block,
  plan: Plan,
  trial: PlannedTrial,
  { settled, index, attempt }: { settled: Readonly<Record<Id, number>>; index: number; attempt: number },
): PlannedTrial {
  const values = { ...trial.values, ...settled };
  const placed = placedIn(document, block, plan, streamOf(block, attempt))(values, trial.pass, index);
  return { ...trial, values, settled, placed };
}

type RandomScene = { id: Id; lasts: RandomMs };

/**
 * Gives the drawn durations of a trial by its index in the block: the n-th trial of a pass gets the n-th number of its
 * stream, whatever row it has.
 */
function drawnDurations(
  scenes: readonly RandomScene[],
  passOf: (index: number) => number,
  key: readonly (string | number)[],
): (index: number) => Record<Id, number> {
  let streams: Stream[] = [];
  let passOfStreams = 0;
  /** The index whose numbers come next out of the streams. */
  let next = 0;
  const one = (): Record<Id, number> =>
    Object.fromEntries(
      scenes.map(({ id, lasts: { from, to, step } }, index) => [
        id,
        from + step * (streams[index] as Stream).whole(0, Math.floor((to - from) / step + 1e-9)),
      ]),
    );
  return (index) => {
    if (scenes.length === 0) return nothingDrawn;
    const pass = passOf(index);
    if (pass !== passOfStreams || next > index) {
      for (next = index; next > 0 && passOf(next - 1) === pass;) next--;
      streams = scenes.map(({ id }) => streamFor(...key, pass, "duration", id));
      passOfStreams = pass;
    }
    for (; next < index; next++) one();
    next++;
    return one();
  };
}

const nothingDrawn: Record<Id, number> = {};
type RandomMs = Extract<Lasts, { kind: "random-ms" }>;

const nothingPlaced: DrawnElements = {};
