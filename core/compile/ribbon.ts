import { cellAsText } from "../design/cells";
import { blockOf, blocksInOrder, partOf, trialsInBlock } from "../design/lookup";
import type { Block } from "../design/block";
import type { FormattedText } from "../values/formatted-text";
import type { Id } from "../values/ref";
import type { RunningNode } from "../design/running-order";
import type { Scene } from "../design/scene";
import type { StudyDocument } from "../design/document";
import { resolveNumber } from "../values/resolve";
import { arrangementKind } from "../arrangements/registry";
import { bracketsIn } from "../order/parts";
import { limitInWords } from "../order/words";
import type { PlannedTrial } from "./compile";
import { compilePlanned } from "./planned";
import { playedMs } from "../items/item";
import { contextFor } from "../values/context";

/** `breaks`: what the trial breaks of the block's limits, by their places in its list. `inWords`: its row's values. */
export type Tick = {
  trial: number;
  row: Id;
  rowNumber: number;
  color: number;
  height: number;
  breaks: number[];
  inWords: string;
};
/** A stretch of ticks, from the first to the last, that has a name: a sub-block. */
export type Span = { from: number; to: number; name: string };
export type RibbonPart = {
  part: Id;
  name: string;
  kind: "page" | "block";
  ticks: Tick[];
  /** The brackets it stands in, outermost first, each with what it is called. */
  brackets: { id: Id; name: string }[];
  subBlocks: Span[];
  /** Whether it hangs on a condition, and so may be left out. */
  conditional: boolean;
};
/** How often each level of the colouring column follows each other, and how long its runs are. */
export type RibbonCounts = { after: number[][]; runs: number[]; uses: { row: number; part: string; times: number }[] };
/** A whole session's sequence for one participant; `color` and `height` of a tick are places in the lists of levels, −1 for none. */
export type Ribbon = {
  participant: number;
  group: Id;
  groupName: string;
  parts: RibbonPart[];
  colorLevels: string[];
  heightLevels: string[];
  trials: number;
  minutes: number;
  longestRun: number;
  leastUse: number;
  mostUse: number;
  counts: RibbonCounts;
  /** The limits that are broken, in words, with the number of places. */
  broken: { part: string; limit: string; places: number }[];
};

/** Works out the ribbon for a participant, coloured by one column's name and raised by another's. */
export function ribbonFor(
  document: StudyDocument,
  participant: number,
  color: string | null,
  height: string | null,
): Ribbon {
  const plan = compilePlanned(document, participant);
  const { group } = plan;
  const [colorLevels, heightLevels] = [levelsOf(document, color), levelsOf(document, height)];
  const uses = new Map<string, number>();
  let [run, longestRun, before] = [0, 0, -2];
  const after = colorLevels.map(() => colorLevels.map(() => 0));
  const runs: number[] = [];
  const endRun = () => void (run > 0 && before >= 0 && (runs[run - 1] = (runs[run - 1] ?? 0) + 1));
  const broken: Ribbon["broken"] = [];
  const names = new Map(
    bracketsIn(document.runningOrder).map(({ id, arrange, nodes }) => [
      id,
      `${arrangementKind(arrange).name} of ${nodes.length}`,
    ]),
  );
  const parts = plan.parts.map((planned): RibbonPart => {
    const { name } = partOf(document, planned.part);
    const brackets = planned.brackets.map((id) => ({ id, name: names.get(id) ?? "" }));
    const common = { part: planned.part, name, brackets, conditional: planned.when !== undefined };
    if (planned.kind === "page") return { ...common, kind: "page", ticks: [], subBlocks: [] };
    const block = blockOf(document, planned.part);
    const place = placer(document, block);
    const wordsOf = wordsForRows(document, block);
    const breaksAt = new Map<number, number[]>();
    planned.order.breaks.forEach((places, limit) => {
      for (const at of places) breaksAt.set(at, [...(breaksAt.get(at) ?? []), limit]);
      const told = block.order.limits[limit];
      if (told && places.length > 0)
        broken.push({ part: name, limit: limitInWords(told, block), places: places.length });
    });
    const ticks = planned.trials.map((trial, at): Tick => {
      const tick = {
        trial: trial.trial,
        row: trial.row,
        rowNumber: trial.rowNumber,
        color: place(trial, color, colorLevels),
        height: place(trial, height, heightLevels),
        breaks: breaksAt.get(at) ?? [],
        inWords: wordsOf(trial),
      };
      const key = `${block.id} ${trial.row}`;
      uses.set(key, (uses.get(key) ?? 0) + 1);
      const line = after[before];
      if (line && tick.color >= 0) line[tick.color] = (line[tick.color] ?? 0) + 1;
      if (tick.color !== before) endRun();
      run = tick.color === before ? run + 1 : 1;
      before = tick.color;
      longestRun = Math.max(longestRun, run);
      return tick;
    });
    return { ...common, kind: "block", ticks, subBlocks: subBlocksOf(planned.trials) };
  });
  endRun();
  const counts = [...uses.values()];
  return {
    participant,
    group,
    groupName: document.groups.find(({ id }) => id === group)?.name ?? "",
    parts,
    colorLevels,
    heightLevels,
    trials: plan.trialCount,
    minutes: expectedMinutes(document),
    longestRun,
    leastUse: counts.length ? Math.min(...counts) : 0,
    mostUse: counts.length ? Math.max(...counts) : 0,
    counts: {
      after,
      runs: Array.from({ length: runs.length }, (_, length) => runs[length] ?? 0),
      uses: blocksInOrder(document).flatMap((block) =>
        block.table.rows.map(({ id }, index) => ({
          row: index + 1,
          part: block.name,
          times: uses.get(`${block.id} ${id}`) ?? 0,
        })),
      ),
    },
    broken,
  };
}

/** The values of a trial's row as one text, worked out once a row. */
function wordsForRows(document: StudyDocument, block: Block) {
  const known = new Map<Id, string>();
  return ({ row, values }: PlannedTrial): string => {
    const words =
      known.get(row) ??
      block.table.columns
        .flatMap((column) => {
          const value = values[column.id] ?? null;
          return value === null ? [] : [`${column.name} ${cellAsText(document, column, value)}`];
        })
        .join(", ");
    known.set(row, words);
    return words;
  };
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

function placer(document: StudyDocument, block: Block) {
  return (trial: PlannedTrial, name: string | null, levels: string[]): number => {
    const column = name === null ? undefined : block.table.columns.find((each) => each.name === name);
    return column ? levels.indexOf(cellAsText(document, column, trial.values[column.id] ?? null)) : -1;
  };
}

/** Distinct values of the columns with this name, in the order of the tables. */
function levelsOf(document: StudyDocument, name: string | null): string[] {
  if (name === null) return [];
  const seen = blocksInOrder(document).flatMap((block) => {
    const column = block.table.columns.find((each) => each.name === name);
    return column ? block.table.rows.map((row) => cellAsText(document, column, row.cells[column.id] ?? null)) : [];
  });
  return [...new Set(seen)].filter((level) => level !== "");
}

/** Columns a ribbon can be coloured by: factors first, filled ones and pictures left out. */
export function ribbonColumns(document: StudyDocument): string[] {
  const columns = blocksInOrder(document).flatMap(({ table }) => table.columns.filter(({ cases }) => !cases));
  return [
    ...new Set(
      [
        ...columns.filter(({ factor }) => factor),
        ...columns.filter(({ factor, type }) => !factor && type !== "image"),
      ].map(({ name }) => name),
    ),
  ];
}

/** Assumed where only an answer ends a scene, in milliseconds, and how fast people read, in words a minute. */
const answerMs = 500;
const wordsPerMinute = 180;

/** About how long a session takes, in minutes: as measured where there are data, else planned durations, half a second for an answer, reading time. */
export const expectedMinutes = (document: StudyDocument, measured: Readonly<Record<Id, number>> = {}): number => {
  // What a bracket does not take, nobody plays: its parts count by the share that is taken.
  const sum = (nodes: readonly RunningNode[]): number =>
    nodes.reduce((total, node) => {
      if (node.kind === "part")
        return total + (document.parts[node.part] ? (measured[node.part] ?? partMinutes(document, node.part)) : 0);
      const share = Math.min(1, (node.take ?? node.nodes.length) / Math.max(1, node.nodes.length));
      return total + share * sum(node.nodes);
    }, 0);
  return sum(document.runningOrder);
};

export function partMinutes(document: StudyDocument, id: Id): number {
  const part = partOf(document, id);
  if (part.kind === "page") return (5 + (words(part.body) / wordsPerMinute) * 60) / 60;
  const trials = trialsInBlock(part);
  return (trials * part.scenes.reduce((sum, scene) => sum + sceneMs(document, scene), 0)) / 60_000;
}

const words = (text: FormattedText) =>
  text
    .flatMap(({ runs }) => runs)
    .reduce((sum, run) => sum + ("text" in run ? run.text.split(/\s+/).filter(Boolean).length : 1), 0);

function sceneMs(document: StudyDocument, scene: Scene): number {
  const { lasts } = scene;
  const context = contextFor({ study: document, group: document.groups[0]?.id ?? "", participant: 1 });
  switch (lasts.kind) {
    case "ms":
      return resolveNumber(lasts.ms, context) ?? answerMs;
    case "random-ms":
      return (lasts.from + lasts.to) / 2;
    case "media-end":
      return playedMs(scene.items, context);
    case "until-answer":
      return Math.min(
        answerMs,
        lasts.atMostMs === undefined ? answerMs : (resolveNumber(lasts.atMostMs, context) ?? answerMs),
      );
  }
}
