import type { Item } from "../items/registry";
import type { Block } from "./block";
import type { Id } from "../values/ref";
import type { Part, StudyDocument } from "./document";
import type { PartNode, RunningNode } from "./running-order";

/** The part with this id. Throws when the document has none: ids come from the document itself. */
export function partOf(document: StudyDocument, id: Id): Part {
  const part = document.parts[id];
  if (!part) throw new Error(`No part ${id} in this study`);
  return part;
}

/** The block with this id. Throws when there is none or it is a page. */
export function blockOf(document: StudyDocument, id: Id): Block {
  const part = partOf(document, id);
  if (part.kind !== "block") throw new Error(`Part ${id} is not a block`);
  return part;
}

/** Ids of all parts in the listed running order, brackets opened. */
export const listedParts = (nodes: RunningNode[]): Id[] => partNodes(nodes).map(({ part }) => part);

/** The nodes of all parts in the listed running order, brackets opened. */
export const partNodes = (nodes: RunningNode[]): PartNode[] =>
  nodes.flatMap((node) => (node.kind === "part" ? [node] : partNodes(node.nodes)));

/** What a node of the running order is known by: its part, or the bracket's own id. */
export const nodeKey = (node: RunningNode): Id => (node.kind === "part" ? node.part : node.id);

/** All parts in the listed running order. */
export const partsInOrder = (document: StudyDocument): Part[] =>
  listedParts(document.runningOrder).flatMap((id) => document.parts[id] ?? []);

export const blocksInOrder = (document: StudyDocument): Block[] =>
  partsInOrder(document).filter((part): part is Block => part.kind === "block");

/** All items of a block, scene by scene. */
export const itemsIn = ({ scenes }: Pick<Block, "scenes">): Item[] => scenes.flatMap(({ items }) => items);

/** Trials a participant plays in this block: those taken of the rows' copies, times passes; of given sequences, the first. */
export function trialsInBlock({ order, table }: Block): number {
  if (order.method === "given") return (order.given?.sequences[0]?.rows.length ?? 0) * order.passes;
  const all = table.rows.reduce((sum, { copies }) => sum + copies, 0);
  return (all === 0 ? 0 : (order.take ?? all)) * order.passes;
}

/** Whether trials of a block follow what was answered. */
export const followsAnswers = ({ table, order }: Block): boolean =>
  order.again !== undefined || table.columns.some(({ follows }) => follows !== undefined);

/** Whether a value of any block follows the answers. */
export const hasFollowing = ({ parts }: StudyDocument): boolean =>
  Object.values(parts).some(
    (part) => part.kind === "block" && part.table.columns.some(({ follows }) => follows !== undefined),
  );
