import { listedParts, trialsInBlock } from "../design/lookup";
import type { ArrayItem, Bindable, Block, Id, RunningNode, Scalar, StudyDocument } from "../design/types";
import { streamFor, type Stream } from "../order/random";
import { rowsOfPass } from "../order/rows";
import { emptyTally, resolve, resolveNumber, type Context } from "../run/resolve";
import { placeElements, type PlacedElement } from "./arrays";
import { rowValues } from "./values";

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
  placed: Record<Id, PlacedElement[]>;
};
export type PlannedPart = { kind: "page"; part: Id } | { kind: "block"; part: Id; trials: PlannedTrial[] };
/** Everything that is settled before a participant begins. */
export type Plan = { participant: number; group: Id; seed: string; parts: PlannedPart[]; trialCount: number };

/**
 * The plan of one participant. Pure: the same document, participant number, seed and group give the same plan on any
 * machine. Every draw has a stream of its own, so that editing one block leaves the order of the others as it was.
 */
export function compile(document: StudyDocument, participant: number, seed: string, group: Id): Plan {
  let trial = 0;
  const parts: PlannedPart[] = [];
  for (const id of partsFor(document.runningOrder, group)) {
    const part = document.parts[id];
    if (!part) continue;
    if (part.kind === "page") parts.push({ kind: "page", part: id });
    else {
      const trials = blockTrials(document, part, participant, seed, group, trial);
      trial += trials.length;
      parts.push({ kind: "block", part: id, trials });
    }
  }
  return { participant, group, seed, parts, trialCount: trial };
}

/** The trials of one block alone, as they are in the whole plan. */
export function compileBlock(
  document: StudyDocument,
  block: Block,
  participant: number,
  seed: string,
  group: Id,
): PlannedTrial[] {
  let before = 0;
  for (const id of partsFor(document.runningOrder, group)) {
    if (id === block.id) return blockTrials(document, block, participant, seed, group, before);
    const part = document.parts[id];
    if (part?.kind === "block") before += trialsInBlock(part);
  }
  return [];
}

function partsFor(nodes: RunningNode[], group: Id): Id[] {
  return nodes.flatMap((node) => {
    if (node.kind === "bracket") return listedParts(node.nodes);
    return node.onlyGroups && !node.onlyGroups.includes(group) ? [] : [node.part];
  });
}

function blockTrials(
  document: StudyDocument,
  block: Block,
  participant: number,
  seed: string,
  group: Id,
  before: number,
): PlannedTrial[] {
  const numbers = new Map(block.table.rows.map((row, index) => [row.id, index + 1]));
  const values = new Map(block.table.rows.map((row) => [row.id, rowValues(document, block, row, group)]));
  const random = block.scenes.flatMap((scene) =>
    scene.lasts.kind === "random-ms" ? [{ id: scene.id, lasts: scene.lasts }] : [],
  );
  const arrays = block.scenes.flatMap(({ items }) => items.filter((item) => item.kind === "array"));
  const trials: PlannedTrial[] = [];
  const placedIn = (row: Id, key: readonly (string | number)[], place: number) => {
    const context = { document, group, participant, values: values.get(row) ?? {}, tally: emptyTally, placed: {} };
    return Object.fromEntries(
      arrays.map((item) => [item.id, drawnElements(item, context, streamFor(...key, "array", item.id, place))]),
    );
  };
  for (let pass = 1; pass <= block.order.passes; pass++) {
    const key = [seed, participant, block.id, pass] as const;
    const durations = random.map(({ id, lasts }) => ({ id, lasts, stream: streamFor(...key, "duration", id) }));
    for (const row of rowsOfPass(block.table.rows, block.order, streamFor(...key, "order"))) {
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
        placed: arrays.length === 0 ? nothingPlaced : placedIn(row.id, key, trials.length),
      });
    }
  }
  return trials;
}

const nothingPlaced: PlannedTrial["placed"] = {};

/** The elements of an array in one trial, as drawn from the stream; its numbers come from the trial's row. */
function drawnElements(item: ArrayItem, context: Context, stream: Stream): PlacedElement[] {
  const number = (value: Bindable<number>, otherwise: number) => resolveNumber(value, context) ?? otherwise;
  const present = resolve(item.present, context);
  const field = {
    count: Math.max(0, Math.min(500, Math.round(number(item.count, 0)))),
    w: number(item.size.w, 10),
    h: number(item.size.h, 10),
    element: number(item.element, 5),
    present: present !== false && present !== null && present !== "no" && present !== "absent",
  };
  return placeElements(item, field, stream);
}
