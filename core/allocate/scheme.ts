import type { Group } from "../values/study-values";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import type { Block } from "../design/block";
import type { RunningNode } from "../design/running-order";
import { nodesFor, orderedThings, type Orders } from "../order/parts";
import { listsOf } from "../pools/lists";

/** What a participant gets: a group, and for each thing whose order is spread over participants, which one. */
export type Assignment = { group: Id; orders: Orders };
/** The counterbalancing scheme of one group: its things with their numbers of orders, and the cells these make. */
export type GroupScheme = {
  group: Id;
  share: number;
  things: { id: Id; name: string; orders: number }[];
  cells: number;
};

export const shareOf = ({ share }: Group): number => share ?? 1;

const schemes = new WeakMap<StudyDocument, GroupScheme[]>();

/** The whole scheme: each group with the cells in which its participants are. */
export function schemeOf(document: StudyDocument): GroupScheme[] {
  const known = schemes.get(document);
  if (known) return known;
  const scheme = document.groups.map((group): GroupScheme => {
    const things = [...orderedThings(document, group.id), ...listedThings(document, group.id)];
    return {
      group: group.id,
      share: shareOf(group),
      things,
      cells: things.reduce((sum, { orders }) => sum * orders, 1),
    };
  });
  schemes.set(document, scheme);
  return scheme;
}

/** Blocks whose lists of pools are turned against each other, with how many lists they have. */
const listedThings = (document: StudyDocument, group: Id): GroupScheme["things"] =>
  blocksFor(document.runningOrder, document, group).flatMap((block) => {
    const { id, lists } = listsOf(block);
    return lists > 1 ? [{ id, name: `lists of ${block.name}`, orders: lists }] : [];
  });

const blocksFor = (nodes: readonly RunningNode[], document: StudyDocument, group: Id): Block[] =>
  nodesFor(nodes, group).flatMap((node) => {
    if (node.kind === "bracket") return blocksFor(node.nodes, document, group);
    const part = document.parts[node.part];
    return part?.kind === "block" ? [part] : [];
  });

/** The assignment that a group's nth cell (from 0) stands for; the last thing varies fastest. */
export function assignmentTo({ group, things }: GroupScheme, cell: number): Assignment {
  let rest = cell;
  const orders: Record<Id, number> = {};
  for (const { id, orders: size } of things.toReversed()) {
    orders[id] = rest % size;
    rest = Math.floor(rest / size);
  }
  return { group, orders };
}

/** A cell's key, the same for equal assignments in any version of the study. */
export const cellKey = ({ group, orders }: Assignment): string =>
  [
    group,
    ...Object.entries(orders)
      .toSorted(([a], [b]) => (a < b ? -1 : 1))
      .map(([id, order]) => `${id}:${order}`),
  ].join(" ");

/** The group of a cell, by its key. */
export const groupOfKey = (key: string): Id => key.split(" ")[0] ?? "";

/** How many sessions that count are in each cell, by its key; a cell that is not listed has none. */
export type CellCounts = ReadonlyMap<string, number>;
export type Start = {
  participant: number;
  /** The stratum's name, empty where there are none. */
  stratum: string;
  counts: CellCounts;
  /** The group requested by the link or the experimenter. */
  group?: Id | undefined;
};
