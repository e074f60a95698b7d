import { hasOwnRow } from "../values/draws";
import { isFilled, sourcesOf, type TrialTable } from "../values/table";
import { listedParts } from "./lookup";
import { columnStem, freeName, freeTitle } from "../values/names";
import { questionsInOrder } from "./questions";
import { same } from "./same";
import type { Block } from "./block";
import type { Id } from "../values/ref";
import type { RunningNode } from "./running-order";
import type { StudyDocument } from "./document";

/** A value that was changed on both sides. The path leads through ids where a list has them. */
export type Conflict = { path: string[]; mine: unknown; theirs: unknown };
export type Merged = { document: StudyDocument; conflicts: Conflict[] };

/**
 * Merges two versions that come from the same base: what only one side changed is taken from it, also within the same
 * row, scene or item. Where both changed the same value, mine stays and the conflict is told; what one side removed and
 * the other changed stays, and is told too. Lists are merged by the ids of their entries. The result is a sound document.
 */
export function merge(base: StudyDocument, mine: StudyDocument, theirs: StudyDocument): Merged {
  const conflicts: Conflict[] = [];
  const document = mergeValues(base, mine, theirs, [], conflicts) as StudyDocument;
  return { document: repaired(document), conflicts };
}

/** A change made between two versions, carried out on a third one; what was changed there too stays as it is there. */
export const transplanted = (before: StudyDocument, after: StudyDocument, onto: StudyDocument): StudyDocument =>
  onto === before ? after : merge(before, onto, after).document;

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);
/** What an entry of a list is known by; null where it has no name of its own. */
const keyOf = (entry: unknown): string | null => {
  if (!isObject(entry)) return null;
  if (typeof entry.id === "string") return entry.id;
  return entry.kind === "part" && typeof entry.part === "string" ? entry.part : null;
};
const isKeyed = (list: unknown): list is Json[] =>
  Array.isArray(list) && list.every((entry) => keyOf(entry) !== null) && new Set(list.map(keyOf)).size === list.length;

/** What tells things of several kinds apart. */
const kinds = ["kind", "device", "from", "do", "on", "is", "with"];

function mergeValues(base: unknown, mine: unknown, theirs: unknown, path: string[], conflicts: Conflict[]): unknown {
  if (mine === theirs || same(base, mine)) return theirs;
  if (same(base, theirs) || same(mine, theirs)) return mine;
  if (mine === undefined || theirs === undefined) {
    // Removed on one side and changed on the other: what was changed stays.
    conflicts.push({ path, mine, theirs });
    return mine ?? theirs;
  }
  if (isKeyed(mine) && isKeyed(theirs) && (base === undefined || isKeyed(base)))
    return mergeLists(base ?? [], mine, theirs, path, conflicts);
  if (isObject(mine) && isObject(theirs)) {
    const before = isObject(base) ? base : {};
    // A thing that became another kind of thing, or that each side made of another kind, is taken whole.
    const isNew = Object.keys(before).length === 0;
    const isOther = kinds.some((field) =>
      isNew
        ? mine[field] !== theirs[field]
        : [mine, theirs].some((each) => typeof each[field] === "string" && each[field] !== before[field]),
    );
    if (!isOther) {
      const keys = new Set([...Object.keys(theirs), ...Object.keys(mine)]);
      const entries = [...keys].map(
        (key) => [key, mergeValues(before[key], mine[key], theirs[key], [...path, key], conflicts)] as const,
      );
      return Object.fromEntries(entries.filter(([, value]) => value !== undefined));
    }
  }
  conflicts.push({ path, mine, theirs });
  return mine;
}

function mergeLists(base: Json[], mine: Json[], theirs: Json[], path: string[], conflicts: Conflict[]): Json[] {
  const byKey = (list: Json[]) => new Map(list.map((entry) => [keyOf(entry) as string, entry]));
  const [before, here, there] = [byKey(base), byKey(mine), byKey(theirs)];
  const kept = new Map<string, Json>();
  for (const key of new Set([...there.keys(), ...here.keys()])) {
    const merged = mergeValues(before.get(key), here.get(key), there.get(key), [...path, key], conflicts);
    if (merged !== undefined) kept.set(key, merged as Json);
  }
  const [lead, other] = isReordered(before, here) ? [here, there] : [there, here];
  const order = [...lead.keys()].filter((key) => kept.has(key));
  const placed = new Set(order);
  let previous: string | null = null;
  for (const key of other.keys()) {
    if (kept.has(key) && !placed.has(key)) {
      order.splice(previous === null ? 0 : order.indexOf(previous) + 1, 0, key);
      placed.add(key);
    }
    if (placed.has(key)) previous = key;
  }
  return order.map((key) => kept.get(key) as Json);
}

/** Whether entries that were there before stand in another order now. */
function isReordered(before: Map<string, Json>, after: Map<string, Json>): boolean {
  const old = [...before.keys()].filter((key) => after.has(key));
  const now = [...after.keys()].filter((key) => before.has(key));
  return old.some((key, index) => key !== now[index]);
}

/**
 * Repairs what a merge can leave loose: parts outside the running order, nodes without a part, windows and cells of
 * what was removed, names used twice.
 */
function repaired(document: StudyDocument): StudyDocument {
  const placed = new Set<Id>();
  const groups = new Set(document.groups.map(({ id }) => id));
  const sittings = new Set(document.sittings.map(({ id }) => id));
  const whole = (nodes: RunningNode[]): RunningNode[] =>
    nodes.flatMap((node): RunningNode[] => {
      if (node.kind === "bracket") {
        const nodes = whole(node.nodes);
        return nodes.length > 0 ? [{ ...node, nodes }] : [];
      }
      if (!document.parts[node.part] || placed.has(node.part)) return [];
      placed.add(node.part);
      const { onlyGroups, onlySittings, ...rest } = node;
      const groupsLeft = onlyGroups?.filter((id) => groups.has(id)) ?? [];
      const sittingsLeft = onlySittings?.filter((id) => sittings.has(id)) ?? [];
      return [
        {
          ...rest,
          ...(groupsLeft.length > 0 ? { onlyGroups: groupsLeft } : {}),
          ...(sittingsLeft.length > 0 ? { onlySittings: sittingsLeft } : {}),
        },
      ];
    });
  const isSound =
    listedParts(document.runningOrder).every((id) => document.parts[id]) &&
    Object.keys(document.parts).every((id) => listedParts(document.runningOrder).includes(id)) &&
    new Set(listedParts(document.runningOrder)).size === listedParts(document.runningOrder).length;
  const runningOrder = isSound && groups.size > 0 ? document.runningOrder : whole(document.runningOrder);
  const lost = isSound ? [] : Object.keys(document.parts).filter((id) => !placed.has(id));
  const parts = Object.fromEntries(
    Object.entries(document.parts).map(([id, part]) => [id, part.kind === "block" ? repairedBlock(part) : part]),
  );
  for (const [id, part] of Object.entries(parts)) {
    if (part.kind !== "block" || part.sharesWith === undefined) continue;
    const source = parts[part.sharesWith];
    if (source?.kind === "block" && source.sharesWith === undefined)
      parts[id] = { ...part, table: source.table, scenes: source.scenes, answers: source.answers };
    else {
      // Without its source a block stands alone.
      const alone = { ...part };
      delete alone.sharesWith;
      parts[id] = alone;
    }
  }
  const { after, ...allocation } = document.allocation;
  return {
    ...document,
    allocation: after !== undefined && !parts[after] ? allocation : document.allocation,
    parts,
    runningOrder: [...runningOrder, ...lost.map((part) => ({ kind: "part" as const, part }))],
    groups: distinct(document.groups, lower, freeTitle),
    pools: distinct(document.pools, lower, freeTitle).map((pool) => ({ ...pool, table: repairedTable(pool.table) })),
    variables: distinct(document.variables, lower, freeName, [
      ...names(document),
      ...document.groupValues.map(({ name }) => name),
      ...document.scores.map(({ name }) => name),
      ...questionsInOrder(document).map(({ question }) => question.name),
    ]),
    groupValues: distinct(document.groupValues, lower, freeName, names(document)).map((value) => {
      const known = Object.values(value.perGroup)[0] ?? "";
      const isWhole =
        groups.size === Object.keys(value.perGroup).length && [...groups].every((id) => id in value.perGroup);
      const perGroup = Object.fromEntries([...groups].map((id) => [id, value.perGroup[id] ?? known]));
      return isWhole ? value : { ...value, perGroup };
    }),
  };
}

const lower = (name: string) => name.toLowerCase();
const names = ({ parts }: StudyDocument): string[] =>
  Object.values(parts).flatMap((part) => (part.kind === "block" ? part.table.columns.map(({ name }) => name) : []));

/** The list with a name of its own for each: of two with the same, the later is called anew. */
function distinct<T extends { name: string }>(
  list: T[],
  key: (name: string) => string,
  free: (stem: string, taken: Iterable<string>) => string,
  others: string[] = [],
): T[] {
  const taken = [...others];
  return list.map((entry) => {
    const isTaken = taken.some((name) => key(name) === key(entry.name));
    const name = isTaken ? free(entry.name, [...taken, ...list.map((each) => each.name)]) : entry.name;
    taken.push(name);
    return isTaken ? { ...entry, name } : entry;
  });
}

/** A table without cells of columns that are gone. */
function repairedTable(table: TrialTable): TrialTable {
  const columns = new Set(table.columns.map(({ id }) => id));
  const rows = table.rows.map((row) =>
    Object.keys(row.cells).every((id) => columns.has(id))
      ? row
      : { ...row, cells: Object.fromEntries(Object.entries(row.cells).filter(([id]) => columns.has(id))) },
  );
  return { columns: distinct(table.columns, lower, freeName), rows };
}

function repairedBlock(block: Block): Block {
  const scenes = new Set(block.scenes.map(({ id }) => id));
  const typed = new Set(block.table.columns.flatMap((column) => (isFilled(column) ? [] : [column.id])));
  const last = block.scenes.at(-1)?.id ?? "";
  const answers = block.answers
    .filter(() => scenes.size > 0)
    .map((answer) => {
      const isWhole = [answer.opensWith, answer.closesWith, answer.countsFrom ?? last].every((id) => scenes.has(id));
      if (isWhole) return answer;
      const { countsFrom, ...rest } = answer;
      return {
        ...rest,
        opensWith: scenes.has(answer.opensWith) ? answer.opensWith : last,
        closesWith: scenes.has(answer.closesWith) ? answer.closesWith : last,
        ...(countsFrom !== undefined && scenes.has(countsFrom) ? { countsFrom } : {}),
      };
    });
  const { rows } = repairedTable(block.table);
  const mended = block.table.columns.map((column) => {
    const { follows } = column;
    if (follows?.each !== undefined && !typed.has(follows.each)) {
      const apart = { ...follows };
      delete apart.each;
      return { ...column, follows: apart };
    }
    const { draws } = column;
    const isLoose =
      draws && "with" in draws && !block.table.columns.some((each) => each.id === draws.with && hasOwnRow(each.draws));
    if (!isLoose && sourcesOf(column).every((id) => typed.has(id))) return column;
    return { id: column.id, name: column.name, type: column.type, factor: column.factor };
  });
  return {
    ...block,
    scenes: distinct(block.scenes, columnStem, freeTitle),
    answers: distinct(answers, columnStem, freeTitle),
    table: { columns: distinct(mended, lower, freeName), rows },
  };
}
