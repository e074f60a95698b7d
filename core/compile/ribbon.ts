import { plannedPlace } from "../allocate/allocate";
import { cellAsText } from "../design/cells";
import { blockOf, blocksInOrder, partOf } from "../design/lookup";
import type { Block, FormattedText, Id, Scene, StudyDocument } from "../design/types";
import { resolveNumber, emptyTally } from "../run/resolve";
import { mediaMs } from "./media-length";
import { compile, type PlannedTrial } from "./compile";

export type Tick = { trial: number; row: Id; rowNumber: number; color: number; height: number };
export type RibbonPart = { part: Id; name: string; kind: "page" | "block"; ticks: Tick[] };
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
};

/** Works out the ribbon for a participant, coloured by one column's name and raised by another's. */
export function ribbonFor(
  document: StudyDocument,
  participant: number,
  color: string | null,
  height: string | null,
): Ribbon {
  const { group, orders } = plannedPlace(document, participant);
  const plan = compile(document, participant, document.settings.seed, group, orders);
  const [colorLevels, heightLevels] = [levelsOf(document, color), levelsOf(document, height)];
  const uses = new Map<string, number>();
  let [run, longestRun, before] = [0, 0, -2];
  const parts = plan.parts.map((planned): RibbonPart => {
    const { name } = partOf(document, planned.part);
    if (planned.kind === "page") return { part: planned.part, name, kind: "page", ticks: [] };
    const block = blockOf(document, planned.part);
    const place = placer(document, block);
    const ticks = planned.trials.map((trial): Tick => {
      const tick = {
        trial: trial.trial,
        row: trial.row,
        rowNumber: trial.rowNumber,
        color: place(trial, color, colorLevels),
        height: place(trial, height, heightLevels),
      };
      const key = `${block.id} ${trial.row}`;
      uses.set(key, (uses.get(key) ?? 0) + 1);
      run = tick.color === before ? run + 1 : 1;
      before = tick.color;
      longestRun = Math.max(longestRun, run);
      return tick;
    });
    return { part: planned.part, name, kind: "block", ticks };
  });
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
  };
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

/** About how long a session takes: planned durations, half a second for an answer, reading time for pages. */
export const expectedMinutes = (document: StudyDocument): number =>
  Object.keys(document.parts).reduce((sum, id) => sum + partMinutes(document, id), 0);

export function partMinutes(document: StudyDocument, id: Id): number {
  const part = partOf(document, id);
  if (part.kind === "page") return (5 + (words(part.body) / wordsPerMinute) * 60) / 60;
  const trials = part.order.passes * part.table.rows.reduce((sum, { copies }) => sum + copies, 0);
  return (trials * part.scenes.reduce((sum, scene) => sum + sceneMs(document, scene), 0)) / 60_000;
}

const words = (text: FormattedText) =>
  text
    .flatMap(({ runs }) => runs)
    .reduce((sum, run) => sum + ("text" in run ? run.text.split(/\s+/).filter(Boolean).length : 1), 0);

function sceneMs(document: StudyDocument, scene: Scene): number {
  const { lasts } = scene;
  const context = {
    document,
    group: document.groups[0]?.id ?? "",
    participant: 1,
    values: {},
    tally: emptyTally,
    placed: {},
  };
  switch (lasts.kind) {
    case "ms":
      return resolveNumber(lasts.ms, context) ?? answerMs;
    case "random-ms":
      return (lasts.from + lasts.to) / 2;
    case "media-end":
      return mediaMs(scene, context);
    case "until-answer":
      return Math.min(
        answerMs,
        lasts.atMostMs === undefined ? answerMs : (resolveNumber(lasts.atMostMs, context) ?? answerMs),
      );
  }
}
