import type { StudyDocument } from "../design/document";
import type { PartNode, RunningNode } from "../design/running-order";

/** Whether a node can stand above the line: a page that all participants have, in their first sitting at least. */
const isForAll = (document: StudyDocument, node: RunningNode): node is PartNode =>
  node.kind === "part" &&
  node.onlyGroups === undefined &&
  (node.onlySittings === undefined || node.onlySittings.includes(document.sittings[0]?.id ?? "")) &&
  !node.aside &&
  document.parts[node.part]?.kind === "page";

/** The nodes from the beginning up to the page after which places are given, whatever they are; none without one. */
export function aboveLine({ allocation, runningOrder }: StudyDocument): RunningNode[] {
  const { after } = allocation;
  if (after === undefined) return [];
  return runningOrder.slice(0, runningOrder.findIndex((node) => node.kind === "part" && node.part === after) + 1);
}

/**
 * The pages that are played before a session has its place. None where places are given at the start, and where something
 * else stands above the line, which preflight refuses.
 */
export function openingOf(document: StudyDocument): PartNode[] {
  const above = aboveLine(document);
  return above.every((node) => isForAll(document, node)) ? (above as PartNode[]) : [];
}

/** The pages after which places can be given, in their order. */
export function possibleLines(document: StudyDocument): PartNode[] {
  const end = document.runningOrder.findIndex((node) => !isForAll(document, node));
  return (end < 0 ? document.runningOrder : document.runningOrder.slice(0, end)) as PartNode[];
}

/** What stands above the line and cannot. */
export const wronglyAbove = (document: StudyDocument): RunningNode[] =>
  aboveLine(document).filter((node) => !isForAll(document, node));
