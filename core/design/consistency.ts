import { hasOwnRow } from "../values/draws";
import { isFilled, sourcesOf, type TrialTable } from "../values/table";
import { columnStem, nameProblem } from "../values/names";
import { namesEverywhere, namesInReach } from "./names-in-reach";
import { isQuestion, isSet } from "./questions";
import { same } from "./same";
import type { Mistake } from "../shape/shape";
import type { Block } from "./block";
import type { Id } from "../values/ref";
import type { RunningNode } from "./running-order";
import type { StudyDocument } from "./document";

/**
 * What holds between the parts of a document and a shape alone cannot say: ids are used once and those that carry
 * the structure (running order, scenes of an answer window, group columns) exist; names are unique in their reach.
 * Bindings to things that are gone are not listed here: they are left to preflight, since a draft may have them.
 */
export function consistencyMistakes(document: StudyDocument): Mistake[] {
  const mistakes: Mistake[] = [];
  const add = (path: string, message: string) => mistakes.push({ path, message });

  const once = (entries: { id: Id }[], path: string) => {
    const seen = new Set<Id>();
    entries.forEach(({ id }, index) => {
      if (seen.has(id)) add(`${path}[${index}].id`, `“${id}” is used twice: give each its own`);
      seen.add(id);
    });
  };
  const named = (
    entries: { name: string }[],
    path: string,
    key: (name: string) => string = (name) => name.toLowerCase(),
  ) => {
    const seen = new Set<string>();
    entries.forEach(({ name }, index) => {
      if (seen.has(key(name))) add(`${path}[${index}]`, `the name “${name}” is used already: each name is used once`);
      seen.add(key(name));
    });
  };

  once(document.groups, "groups");
  named(document.groups, "groups");
  once(document.groupValues, "groupValues");
  once(document.variables, "variables");
  once(document.pools, "pools");
  once(document.services, "services");
  named(document.pools, "pools");
  document.pools.forEach(({ id, table }, index) => poolMistakes(document, id, table, `pools[${index}]`, add, once));
  once(document.media, "media");
  once(document.scores, "scores");
  document.scores.forEach(({ id, name }, index) => {
    const problem = nameProblem(name, namesEverywhere(document, id));
    if (problem) add(`scores[${index}]`, problem);
  });
  formMistakes(document, add);
  const groupIds = new Set(document.groups.map(({ id }) => id));
  document.variables.forEach(({ id, name }, index) => {
    const problem = nameProblem(name, namesEverywhere(document, id));
    if (problem) add(`variables[${index}]`, problem);
  });
  document.groupValues.forEach((value, index) => {
    const problem = nameProblem(value.name, namesEverywhere(document, value.id));
    if (problem) add(`groupValues[${index}]`, problem);
    for (const group of document.groups)
      if (!Object.hasOwn(value.perGroup, group.id))
        add(`groupValues[${index}].perGroup`, `has no value for group “${group.name}”: add one`);
    for (const group of Object.keys(value.perGroup))
      if (!groupIds.has(group))
        add(`groupValues[${index}].perGroup`, `has a value for “${group}”, which is no group: remove it`);
  });

  for (const [id, part] of Object.entries(document.parts)) {
    if (part.id !== id) add(`parts.${id}.id`, `is “${part.id}” but stands under “${id}”: make them the same`);
    if (part.kind === "block") blockMistakes(document, part, `parts.${id}`, add, once, named);
    const source = part.kind === "block" && part.sharesWith !== undefined ? document.parts[part.sharesWith] : undefined;
    if (part.kind === "block" && part.sharesWith !== undefined) {
      if (source?.kind !== "block" || source.sharesWith !== undefined)
        add(
          `parts.${id}.sharesWith`,
          `names “${part.sharesWith}”, which is not a block with trials of its own: remove it`,
        );
      else if (!same([part.table, part.scenes, part.answers], [source.table, source.scenes, source.answers]))
        add(
          `parts.${id}`,
          `should have the same table, scenes and answers as “${source.name}”: make them the same, or remove sharesWith`,
        );
    }
  }

  const placed = new Map<Id, number>();
  const walk = (nodes: RunningNode[], path: string) =>
    nodes.forEach((node, index) => {
      const at = `${path}[${index}]`;
      if (node.kind === "bracket") return walk(node.nodes, `${at}.nodes`);
      if (!Object.hasOwn(document.parts, node.part))
        add(at, `names the part “${node.part}”, which the study does not have`);
      placed.set(node.part, (placed.get(node.part) ?? 0) + 1);
      for (const group of node.onlyGroups ?? [])
        if (!groupIds.has(group)) add(at, `is only for “${group}”, which is no group`);
      for (const sitting of node.onlySittings ?? [])
        if (!document.sittings.some(({ id: each }) => each === sitting))
          add(at, `is only for “${sitting}”, which is no sitting`);
    });
  walk(document.runningOrder, "runningOrder");
  document.sittings.forEach(({ id, name, due }, index) => {
    if (document.sittings.findIndex((each) => each.id === id) !== index)
      add(`sittings[${index}]`, `has the id “${id}”, which another sitting has already`);
    if (due && due.until < due.from)
      add(`sittings[${index}].due`, `ends before it begins: “${name}” is due from day ${due.from} to day ${due.until}`);
  });
  const { after } = document.allocation;
  if (after !== undefined && !placed.has(after))
    add("allocation.after", `names the part “${after}”, which the study does not have: remove it`);
  for (const id of Object.keys(document.parts))
    if (!placed.has(id)) add(`parts.${id}`, "is not in the running order: add it there or remove it");
  return mistakes;
}

/** Questions are known by ids that the whole study has once, and by names that are free. */
function formMistakes(document: StudyDocument, add: (path: string, message: string) => void) {
  const seen = new Set<Id>();
  const names = new Map<string, number>();
  const count = (name: string) => names.set(name.toLowerCase(), (names.get(name.toLowerCase()) ?? 0) + 1);
  for (const name of namesEverywhere(document, null)) count(name);
  for (const page of Object.values(document.parts)) {
    if (page.kind !== "page") continue;
    page.flow.forEach((piece, index) => {
      const at = `parts.${page.id}.flow[${index}]`;
      const own = isSet(piece) ? [piece, ...piece.questions] : [piece];
      for (const { id } of own) {
        // Texts and the like are known on their page only.
        const key = isQuestion(piece) || isSet(piece) ? id : `${page.id} ${id}`;
        if (seen.has(key)) add(at, `has the id “${id}” of another: give each its own`);
        seen.add(key);
      }
      for (const question of isSet(piece) ? piece.questions : isQuestion(piece) ? [piece] : []) {
        const problem =
          (names.get(question.name.toLowerCase()) ?? 0) > 1
            ? `the name “${question.name}” is used already: each name is used once`
            : nameProblem(question.name, []);
        if (problem) add(at, problem);
      }
    });
  }
}

function poolMistakes(
  document: StudyDocument,
  pool: Id,
  { columns, rows }: TrialTable,
  at: string,
  add: (path: string, message: string) => void,
  once: (entries: { id: Id }[], path: string) => void,
) {
  if (Object.hasOwn(document.parts, pool)) add(`${at}.id`, `is that of a part, too: give each its own`);
  once(columns, `${at}.table.columns`);
  once(rows, `${at}.table.rows`);
  columns.forEach((column, index) => {
    const others = columns.filter((each) => each !== column).map(({ name }) => name);
    const problem = nameProblem(column.name, others);
    if (problem) add(`${at}.table.columns[${index}]`, problem);
    if (isFilled(column))
      add(`${at}.table.columns[${index}]`, "is filled, and columns of pools are typed: remove that");
  });
  const known = new Set(columns.map(({ id }) => id));
  rows.forEach(({ cells }, index) => {
    for (const column of Object.keys(cells))
      if (!known.has(column))
        add(`${at}.table.rows[${index}]`, `has a cell for “${column}”, which is no column: remove it`);
  });
}

/** Each of them is worked out anew before every trial. */
const mostFollowing = 10;

function blockMistakes(
  document: StudyDocument,
  block: Block,
  at: string,
  add: (path: string, message: string) => void,
  once: (entries: { id: Id }[], path: string) => void,
  named: (entries: { name: string }[], path: string, key?: (name: string) => string) => void,
) {
  once(block.table.columns, `${at}.table.columns`);
  once(block.table.rows, `${at}.table.rows`);
  once(block.scenes, `${at}.scenes`);
  once(block.answers, `${at}.answers`);
  named(block.scenes, `${at}.scenes`, columnStem);
  named(block.answers, `${at}.answers`, columnStem);
  block.scenes.forEach((scene, index) => once(scene.items, `${at}.scenes[${index}].items`));
  block.table.columns.forEach((column, index) => {
    const problem = nameProblem(column.name, namesInReach(document, block, column.id));
    if (problem) add(`${at}.table.columns[${index}]`, problem);
    const sources = block.table.columns.flatMap((each) => (isFilled(each) ? [] : [each.id]));
    if (!sourcesOf(column).every((id) => sources.includes(id)))
      add(
        `${at}.table.columns[${index}]`,
        "is filled from a column that the table does not have or that is itself filled",
      );
    const drawsWith = column.draws && "with" in column.draws ? column.draws.with : undefined;
    if (drawsWith !== undefined && !block.table.columns.some(({ id, draws }) => id === drawsWith && hasOwnRow(draws)))
      add(`${at}.table.columns[${index}].draws.with`, "names a column of the table that draws no row");
    const level = column.follows?.each;
    if (level !== undefined && !sources.includes(level))
      add(
        `${at}.table.columns[${index}].follows.each`,
        "names a column that the table does not have or that is itself filled",
      );
  });
  if (block.table.columns.filter(({ follows }) => follows !== undefined).length > mostFollowing)
    add(`${at}.table.columns`, `can have at most ${mostFollowing} that follow the answers`);
  const columnIds = new Set(block.table.columns.map(({ id }) => id));
  block.table.rows.forEach((row, index) => {
    for (const column of Object.keys(row.cells))
      if (!columnIds.has(column))
        add(`${at}.table.rows[${index}]`, `has a cell for “${column}”, which is no column: remove it`);
  });
  const scenes = new Set(block.scenes.map(({ id }) => id));
  block.answers.forEach((answer, index) => {
    for (const end of ["opensWith", "closesWith", "countsFrom"] as const)
      if (answer[end] !== undefined && !scenes.has(answer[end]))
        add(`${at}.answers[${index}].${end}`, `names the scene “${answer[end]}”, which the block does not have`);
  });
}
