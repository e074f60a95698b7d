import { original, type Draft } from "immer";
import { nodeKey } from "../lookup";
import type { Arrangement } from "../../arrangements/registry";
import type { Condition } from "../../values/condition";
import type { Id } from "../../values/ref";
import type { StudyDocument } from "../document";
import type { RunningNode } from "../running-order";
import { assign, type Edit } from "./edit";

type Siblings = Draft<RunningNode>[];
type Where = { siblings: Siblings; index: number; parent: Id | null };

/** Where a part or bracket stands: the list it is in, its index there, and the bracket around it. */
/** Where a node stands: among which, and at which place; null where it is gone. */
export const findNode = (nodes: Siblings, key: Id): Where | null => find(nodes, key);

function find(nodes: Siblings, key: Id, parent: Id | null = null): Where | null {
  for (const [index, node] of nodes.entries()) {
    if (nodeKey(node) === key) return { siblings: nodes, index, parent };
    const inside = node.kind === "bracket" ? find(node.nodes, key, node.id) : null;
    if (inside) return inside;
  }
  return null;
}

/**
 * Puts a bracket round neighbours in the running order, from the first to the last of those named (parts or brackets of
 * the same level; where they are of different levels, those that hold them). Does nothing for fewer than two.
 */
export const bracketRound =
  (keys: readonly Id[], id: Id, arrange: Arrangement): Edit =>
  (draft) => {
    const level = commonLevel(draft.runningOrder, keys);
    if (!level || level.to <= level.from) return;
    // Pages whose order varies are not the same for all: the line goes above them.
    const first = level.siblings[level.from];
    const above = keysAbove(draft);
    const nodes = level.siblings.splice(level.from, level.to - level.from + 1);
    level.siblings.splice(level.from, 0, { kind: "bracket", id, arrange, nodes });
    const at = first ? above.indexOf(nodeKey(first)) : -1;
    if (at >= 0) assign(draft.allocation, { after: above[at - 1] });
  };

/** The innermost list that holds all of these, and from where to where. */
function commonLevel(nodes: Siblings, keys: readonly Id[]): { siblings: Siblings; from: number; to: number } | null {
  const positions = keys.map((key) => nodes.findIndex((node) => nodeKey(node) === key || holds(node, key)));
  if (positions.length === 0 || positions.some((index) => index < 0)) return null;
  const [from, to] = [Math.min(...positions), Math.max(...positions)];
  const only = nodes[from];
  const isInside = only?.kind === "bracket" && from === to && keys.every((key) => holds(only, key));
  return isInside ? commonLevel(only.nodes, keys) : { siblings: nodes, from, to };
}
const holds = (node: Draft<RunningNode>, key: Id): boolean =>
  node.kind === "bracket" && node.nodes.some((each) => nodeKey(each) === key || holds(each, key));

/** Removes a bracket; its parts stay where it was, in the listed order. */
export const removeBracket =
  (id: Id): Edit =>
  (draft) => {
    const found = find(draft.runningOrder, id);
    const node = found?.siblings[found.index];
    if (found && node?.kind === "bracket") found.siblings.splice(found.index, 1, ...node.nodes);
  };

export const setBracket =
  (id: Id, change: { arrange?: Arrangement; take?: number | undefined }): Edit =>
  (draft) => {
    const found = find(draft.runningOrder, id);
    const node = found?.siblings[found.index];
    if (node?.kind === "bracket") assign(node, change);
  };

/**
 * Moves a part or a bracket to stand directly before another one, or with null at the end of a bracket (of the running
 * order itself for null). Brackets that are left empty go.
 */
export const moveNode =
  (key: Id, before: Id | null, parent: Id | null): Edit =>
  (draft) => {
    if (key === before || key === parent) return;
    const found = find(draft.runningOrder, key);
    const node = found?.siblings[found.index];
    if (!found || !node || (parent !== null && holds(node, parent)) || (before !== null && holds(node, before))) return;
    const target = before === null ? null : find(draft.runningOrder, before);
    const around = parent === null ? null : find(draft.runningOrder, parent);
    const bracket = around?.siblings[around.index];
    const into = target?.siblings ?? (bracket?.kind === "bracket" ? bracket.nodes : draft.runningOrder);
    const plain = original(node) ?? node;
    keepingLine(draft, key, () => {
      found.siblings.splice(found.index, 1);
      const at = before === null ? into.length : into.findIndex((each) => nodeKey(each) === before);
      into.splice(at, 0, JSON.parse(JSON.stringify(plain)) as RunningNode);
      withoutEmpty(draft.runningOrder);
    });
  };

/**
 * Moves or removes a node so that the line where places are given stays between the others: what was above it and comes to
 * stand farther down leaves it above, what goes before the last of those above stands above it too.
 */
export function keepingLine(draft: Draft<StudyDocument>, key: Id, change: () => void): void {
  const { allocation } = draft;
  const above = keysAbove(draft);
  change();
  if (!above.includes(key)) return;
  const now = draft.runningOrder.map(nodeKey);
  const others = above.filter((each) => each !== key && now.includes(each));
  const last = now.findLast((each) => others.includes(each));
  const at = now.indexOf(key);
  const staysAbove =
    at >= 0 && at <= (last === undefined ? -1 : now.indexOf(last)) + 1 && draft.parts[key] !== undefined;
  const isLowest = staysAbove && (last === undefined || at > now.indexOf(last));
  assign(allocation, { after: isLowest ? key : last });
}

/** What stands above the line where places are given. */
function keysAbove({ allocation, runningOrder }: Draft<StudyDocument>): Id[] {
  const keys = runningOrder.map(nodeKey);
  return keys.slice(0, allocation.after === undefined ? 0 : keys.indexOf(allocation.after) + 1);
}

/** Says after which page places are given; at the start for undefined. */
export const setLine =
  (after: Id | undefined): Edit =>
  (draft) =>
    assign(draft.allocation, { after });

/**
 * Moves a part one line up or down as the table shows it: within its list, into a bracket it meets, or out of its own.
 */
export const stepNode =
  (key: Id, by: -1 | 1): Edit =>
  (draft) => {
    const found = find(draft.runningOrder, key);
    if (!found) return;
    const neighbour = found.siblings[found.index + by];
    if (!neighbour) {
      // At the edge of its bracket: out of it.
      if (found.parent === null) return;
      const around = find(draft.runningOrder, found.parent);
      if (!around) return;
      const next = by < 0 ? found.parent : around.siblings[around.index + 1];
      const before = typeof next === "string" ? next : next ? nodeKey(next) : null;
      return moveNode(key, before, around.parent)(draft);
    }
    if (neighbour.kind === "bracket") {
      const first = neighbour.nodes[0];
      return moveNode(key, by > 0 && first ? nodeKey(first) : null, neighbour.id)(draft);
    }
    const beyond = found.siblings[found.index + (by < 0 ? -1 : 2)];
    moveNode(key, beyond ? nodeKey(beyond) : null, found.parent)(draft);
  };

/** Takes brackets without any part away. */
export function withoutEmpty(nodes: Siblings): void {
  for (let index = nodes.length - 1; index >= 0; index--) {
    const node = nodes[index];
    if (node?.kind !== "bracket") continue;
    withoutEmpty(node.nodes);
    if (node.nodes.length === 0) nodes.splice(index, 1);
  }
}

/** Says which groups and sittings have a part (undefined: all), or on what it hangs. */
export const setPlacing =
  (
    part: Id,
    change: {
      onlyGroups?: Id[] | undefined;
      onlySittings?: Id[] | undefined;
      when?: Condition | undefined;
      aside?: true | undefined;
    },
  ): Edit =>
  (draft) => {
    const found = find(draft.runningOrder, part);
    const node = found?.siblings[found.index];
    if (node?.kind === "part") assign(node, change);
  };
