import { cellAsText } from "../design/cells";
import { blockOf, blocksInOrder, partOf } from "../design/lookup";
import type { Block } from "../design/block";
import type { Id } from "../values/ref";
import type { StudyDocument } from "../design/document";
import { arrangementKind } from "../arrangements/registry";
import { bracketsIn } from "../order/parts";
import { limitInWords } from "../order/words";
import type { PlannedTrial } from "./compile";
import { compilePlanned } from "./planned";
import { drawnValues } from "../design/drawn-levels";
import { isFilled, rowValues } from "../values/table";

/**
 * The trials of a block, with an entry for each in every list, so that thousands of them are light to hand over: rows
 * are counted from 1, levels are indices into the ribbon's lists of levels, −1 for none.
 */
export type Ticks = {
  /** Number in the session of the first trial; the others follow one by one. */
  first: number;
  rows: Int32Array;
  colors: Int32Array;
  heights: Int32Array;
  /** Which of the block's limits (by index) a trial breaks; trials that break none are absent. */
  breaks: Map<number, number[]>;
};
/** A stretch of ticks, from the first to the last, that has a name: a sub-block. */
export type Span = { from: number; to: number; name: string };
export type RibbonPart = {
  part: Id;
  name: string;
  /** None for a page. */
  ticks: Ticks | null;
  /** The brackets it stands in, outermost first, each with what it is called. */
  brackets: { id: Id; name: string }[];
  subBlocks: Span[];
  /** Whether it hangs on a condition, and so may be left out. */
  conditional: boolean;
  /** How often it is played at most: more than once where it is repeated until good enough. */
  attempts: number;
};
/** How often each level of the colouring column follows each other, and how long its runs are. */
export type RibbonCounts = {
  /** Null where there are too many levels for a table of them to say anything. */
  after: number[][] | null;
  runs: number[];
  /** For each block, how often each row is played. */
  uses: { part: string; times: Int32Array }[];
};
/** A whole session's sequence for one participant. */
export type Ribbon = {
  participant: number;
  group: Id;
  groupName: string;
  parts: RibbonPart[];
  /** How many of the parts are played before places are given. */
  opening: number;
  colorLevels: string[];
  heightLevels: string[];
  trials: number;
  longestRun: number;
  leastUse: number;
  mostUse: number;
  counts: RibbonCounts;
  /** The limits that are broken, in words, with the number of trials that break them. */
  broken: { part: string; limit: string; trials: number }[];
};

/** With more levels than this there is no table of which follows which. */
const mostFollowed = 12;

/** Works out the ribbon of a sitting for a participant, coloured by one column's name and raised by another's. */
export function ribbonFor(
  document: StudyDocument,
  participant: number,
  color: string | null,
  height: string | null,
  sitting = 1,
): Ribbon {
  const plan = compilePlanned(document, participant, sitting);
  const { group } = plan;
  const [colorLevels, heightLevels] = [levelsOf(document, color), levelsOf(document, height)];
  const uses = new Map(
    blocksInOrder(document).map(({ id, name, table }) => [
      id,
      { part: name, times: new Int32Array(table.rows.length) },
    ]),
  );
  let [run, longestRun, before] = [0, 0, -2];
  const isTold = colorLevels.length > 1 && colorLevels.length <= mostFollowed;
  const after = isTold ? colorLevels.map(() => colorLevels.map(() => 0)) : null;
  const runs: number[] = [];
  const endRun = () => void (run > 0 && before >= 0 && (runs[run - 1] = (runs[run - 1] ?? 0) + 1));
  const broken: Ribbon["broken"] = [];
  const names = new Map(
    bracketsIn(document.runningOrder).map(({ id, arrange, nodes }) => [
      id,
      `${arrangementKind(arrange).name} of ${nodes.length}`,
    ]),
  );
  const rounds = new Map(bracketsIn(document.runningOrder).map(({ id, until }) => [id, until?.attempts ?? 1]));
  const parts = plan.parts.map((planned): RibbonPart => {
    const { name } = partOf(document, planned.part);
    const brackets = planned.brackets.map((id) => ({ id, name: names.get(id) ?? "" }));
    const attempts =
      attemptsOf(document, planned.part) * planned.brackets.reduce((most, id) => most * (rounds.get(id) ?? 1), 1);
    const common = { part: planned.part, name, brackets, conditional: planned.when !== undefined, attempts };
    if (planned.kind === "page") return { ...common, ticks: null, subBlocks: [] };
    const block = blockOf(document, planned.part);
    const colorOf = levelIn(document, block, color, colorLevels);
    const heightOf = levelIn(document, block, height, heightLevels);
    const { length } = planned.trials;
    const ticks: Ticks = {
      first: planned.trials[0]?.trial ?? 1,
      rows: new Int32Array(length),
      colors: new Int32Array(length),
      heights: new Int32Array(length),
      breaks: new Map(),
    };
    planned.order.breaks.forEach((positions, limit) => {
      for (const at of positions) ticks.breaks.set(at, [...(ticks.breaks.get(at) ?? []), limit]);
      const told = block.order.limits[limit];
      if (told && positions.length > 0)
        broken.push({ part: name, limit: limitInWords(told, block), trials: positions.length });
    });
    const times = uses.get(block.id)?.times;
    planned.trials.forEach((trial, at) => {
      const level = colorOf(trial);
      ticks.rows[at] = trial.rowNumber;
      ticks.colors[at] = level;
      ticks.heights[at] = heightOf(trial);
      if (times) times[trial.rowNumber - 1] = (times[trial.rowNumber - 1] ?? 0) + 1;
      const line = after?.[before];
      if (line && level >= 0) line[level] = (line[level] ?? 0) + 1;
      if (level !== before) endRun();
      run = level === before ? run + 1 : 1;
      before = level;
      longestRun = Math.max(longestRun, run);
    });
    return { ...common, ticks, subBlocks: subBlocksOf(planned.trials) };
  });
  endRun();
  const used = [...uses.values()].flatMap(({ times }) => [...times].filter((often) => often > 0));
  return {
    participant,
    group,
    groupName: document.groups.find(({ id }) => id === group)?.name ?? "",
    parts,
    opening: plan.opening,
    colorLevels,
    heightLevels,
    trials: plan.trialCount,
    longestRun,
    leastUse: used.reduce((least, often) => Math.min(least, often), used[0] ?? 0),
    mostUse: used.reduce((most, often) => Math.max(most, often), 0),
    counts: {
      after,
      runs: Array.from({ length: runs.length }, (_, length) => runs[length] ?? 0),
      uses: [...uses.values()],
    },
    broken,
  };
}

function attemptsOf({ parts }: StudyDocument, id: Id): number {
  const part = parts[id];
  return part?.kind === "block" ? (part.criterion?.attempts ?? 1) : 1;
}

/** The values of a row as one text, as a participant of a group has them. `rowNumber` counts from 1; empty where there is none. */
export function rowInWords(document: StudyDocument, block: Block, rowNumber: number, group: Id): string {
  const row = block.table.rows[rowNumber - 1];
  if (!row) return "";
  const values = rowValues(document, block.table, row, group);
  return block.table.columns
    .flatMap((column) => {
      const value = values[column.id] ?? null;
      return value === null ? [] : [`${column.name} ${cellAsText(document, column, value)}`];
    })
    .join(", ");
}

function subBlocksOf(trials: readonly PlannedTrial[]): Span[] {
  const spans: Span[] = [];
  trials.forEach(({ subBlock, pass }, at) => {
    if (subBlock === null) return;
    const last = spans.at(-1);
    const isNew = !last || trials[at - 1]?.subBlock !== subBlock || trials[at - 1]?.pass !== pass;
    if (isNew) spans.push({ from: at, to: at, name: subBlock });
    else last.to = at;
  });
  return spans;
}

/** Gives the index of a trial's level in the list of levels; −1 if it has none. */
function levelIn(document: StudyDocument, block: Block, name: string | null, levels: readonly string[]) {
  const column = name === null ? undefined : block.table.columns.find((each) => each.name === name);
  if (!column) return () => -1;
  const positions = new Map(levels.map((level, index) => [level, index]));
  return ({ values }: PlannedTrial): number =>
    positions.get(cellAsText(document, column, values[column.id] ?? null)) ?? -1;
}

/** Distinct values of the columns with this name, in the order of the tables. */
function levelsOf(document: StudyDocument, name: string | null): string[] {
  if (name === null) return [];
  const seen = blocksInOrder(document).flatMap((block) => {
    const column = block.table.columns.find((each) => each.name === name);
    if (!column) return [];
    const values = column.draws
      ? drawnValues(document, block, column)
      : block.table.rows.map(({ cells }) => cells[column.id] ?? null);
    return values.map((value) => cellAsText(document, column, value));
  });
  return [...new Set(seen)].filter((level) => level !== "");
}

/** Columns a ribbon can be coloured by: factors first, filled ones and pictures left out. */
export function ribbonColumns(document: StudyDocument): string[] {
  // What is drawn from a pool is known as soon as the session is.
  const columns = blocksInOrder(document).flatMap(({ table }) =>
    table.columns.filter((column) => !isFilled(column) || column.draws),
  );
  return [
    ...new Set(
      [
        ...columns.filter(({ factor }) => factor),
        ...columns.filter(({ factor, type }) => !factor && type !== "image"),
      ].map(({ name }) => name),
    ),
  ];
}
