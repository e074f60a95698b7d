import type { Condition } from "../values/condition";
import type { Id } from "../values/ref";
import type { PartNode, RunningNode } from "../design/running-order";
import { sittingNumbered, type Sitting } from "../design/sittings";
import type { StudyDocument } from "../design/document";
import { arrangementKind } from "../arrangements/registry";
import { hasPlace, type Place } from "./place";
import { subBlockValues } from "./block-order";
import { openingOf } from "./opening";

type Bracket = Extract<RunningNode, { kind: "bracket" }>;
/** For each bracket, and each block with a Latin square of sub-blocks, which of its orders a participant gets, from 0. */
export type Orders = Readonly<Record<Id, number>>;
/** A part where a participant comes to it: the brackets it stands in, outermost first, and the condition it hangs on. */
export type PlacedPart = { part: Id; brackets: Id[]; when?: Condition | undefined };

/** The nodes that a group has at all: parts for other groups, pages that only rules show, and brackets left without any, are not among them. */
export const nodesFor = (nodes: readonly RunningNode[], group: Id): RunningNode[] =>
  nodes.filter((node) =>
    node.kind === "part"
      ? !node.aside && (!node.onlyGroups || node.onlyGroups.includes(group))
      : nodesFor(node.nodes, group).length > 0,
  );

/** How many of its nodes a bracket plays for a group: as many as it takes, or all it has there. */
export const takenOf = (bracket: Bracket, group: Id): { n: number; k: number } => {
  const n = nodesFor(bracket.nodes, group).length;
  return { n, k: Math.min(n, bracket.take ?? n) };
};

/** Whether a sitting has a part. */
export const isInSitting = ({ onlySittings }: PartNode, sitting: Sitting | undefined): boolean =>
  !onlySittings || (sitting !== undefined && onlySittings.includes(sitting.id));

/** `sitting`: its number, from 1; null for the parts of all sittings. */
export type PartsOf = Place & { sitting: number | null };

/**
 * The parts of one participant in the order they come; without a place only those before places are given. What is drawn
 * follows from the study's seed, so that it is the same in every sitting: parts that a sitting does not have are left out
 * of the order they all have.
 */
export function partsFor(
  document: StudyDocument,
  { group, orders, participant, sitting: number }: PartsOf,
): PlacedPart[] {
  const { seed } = document.settings;
  const isPlaced = hasPlace({ participant });
  const sitting = number === null ? undefined : sittingNumbered(document, number);
  const walk = (nodes: readonly RunningNode[], brackets: Id[]): PlacedPart[] =>
    nodesFor(nodes, group).flatMap((node): PlacedPart[] => {
      if (node.kind === "part") {
        if (!document.parts[node.part]) return [];
        if (number !== null && !isInSitting(node, sitting)) return [];
        return [{ part: node.part, brackets, ...(node.when ? { when: node.when } : {}) }];
      }
      const own = nodesFor(node.nodes, group);
      const { n, k } = takenOf(node, group);
      const order = arrangementKind(node.arrange).order(n, k, orders[node.id] ?? 0, {
        seed,
        participant,
        bracket: node.id,
      });
      // One after another: a bracket within keeps its own order wherever it comes.
      return order.flatMap((index) => walk([own[index] as RunningNode], [...brackets, node.id]));
    });
  return walk(isPlaced ? document.runningOrder : openingOf(document), []);
}

/** What participants of a group are spread over evenly: brackets, and blocks with a Latin square of sub-blocks, with their numbers of orders. */
export function orderedThings(document: StudyDocument, group: Id): { id: Id; name: string; orders: number }[] {
  const walk = (nodes: readonly RunningNode[]): { id: Id; name: string; orders: number }[] =>
    nodesFor(nodes, group).flatMap((node) => {
      if (node.kind === "bracket") {
        const { n, k } = takenOf(node, group);
        const { orders, name } = arrangementKind(node.arrange);
        return [{ id: node.id, name, orders: orders(n, k) }, ...walk(node.nodes)];
      }
      const part = document.parts[node.part];
      if (part?.kind !== "block" || part.order.subBlocks !== "latin-square" || part.order.within === undefined)
        return [];
      const values = subBlockValues(part.order, part.table.rows, (row, column) => row.cells[column] ?? null);
      return [{ id: part.id, name: part.name, orders: values.length }];
    });
  return walk(document.runningOrder).filter(({ orders }) => orders > 1);
}

/** All brackets of a running order, outer ones before those within. */
export const bracketsIn = (nodes: readonly RunningNode[]): Bracket[] =>
  nodes.flatMap((node) => (node.kind === "bracket" ? [node, ...bracketsIn(node.nodes)] : []));
