import { cellAsText } from "../design/cells";
import { blocksInOrder } from "../design/lookup";
import { columnStem } from "../design/names";
import { rowValues } from "../compile/values";
import type { Block, Id, Item, Row, Scene, StudyDocument } from "../design/types";
import {
  interruptions,
  outcomes,
  type AnswerRecord,
  type Observation,
  type SceneEnd,
  type TrialRecord,
} from "../run/records";

export type Cell = string | number | null;
/** What a trial's record does not say itself. `release` is the number of the frozen version it was played on. */
export type SessionFacts = {
  study: string;
  release: number;
  wave: string;
  session: string;
  participant: number;
  group: Id;
  pilot: boolean;
};
type Source = { facts: SessionFacts; record: TrialRecord; block: Block; document: StudyDocument };

export type ExportColumn = {
  name: string;
  meaning: string;
  unit: string;
  type: "text" | "number" | "whole number" | "yes/no";
  values: string;
  read: (source: Source) => Cell;
};

/** Milliseconds to a tenth. */
const tenth = (ms: number): number => Math.round(ms * 10) / 10;
const yesNo = (value: boolean): string => (value ? "yes" : "no");
const joined = (values: Iterable<string>) => [...new Set(values)].slice(0, 30).join(", ");

/**
 * The columns of the trials table, in the order of the format: who and where, the trial table's columns, the answer, the
 * scenes, then late frames and pilot, then the outcome in one word and what items did. Made from all releases that have data, newest first:
 * blocks share a column where its name is the same.
 */
export function trialColumns(documents: readonly StudyDocument[]): ExportColumn[] {
  const blocks = documents.flatMap((document) => blocksInOrder(document).map((block) => ({ document, block })));
  return [
    ...whoAndWhere(documents),
    ...tableColumns(blocks),
    ...answerColumns(blocks.map(({ block }) => block)),
    ...sceneColumns(blocks.map(({ block }) => block)),
    ...closing,
    ...answerFates(blocks.map(({ block }) => block)),
    ...frameColumns(blocks.map(({ block }) => block)),
    interrupted,
    ...itemColumns(blocks.map(({ block }) => block)),
  ];
}

const column = (
  name: string,
  type: ExportColumn["type"],
  meaning: string,
  read: ExportColumn["read"],
  unit = "",
  values = "",
): ExportColumn => ({ name, meaning, unit, type, values, read });

const whoAndWhere = (documents: readonly StudyDocument[]): ExportColumn[] => [
  column("study", "text", "Code of the study", ({ facts }) => facts.study),
  column("release", "whole number", "Number of the frozen version that was played", ({ facts }) => facts.release),
  column("wave", "text", "Label of the period of data collection", ({ facts }) => facts.wave),
  column("session", "text", "Identifier of the sitting", ({ facts }) => facts.session),
  column(
    "participant",
    "whole number",
    "Number of the participant in the study; pilot sessions are numbered on their own",
    ({ facts }) => facts.participant,
  ),
  column(
    "group",
    "text",
    "Group the participant was in",
    ({ facts, document }) => document.groups.find(({ id }) => id === facts.group)?.name ?? facts.group,
    "",
    joined(documents.flatMap(({ groups }) => groups.map(({ name }) => name))),
  ),
  column(
    "part",
    "text",
    "Name of the block",
    ({ block }) => block.name,
    "",
    joined(documents.flatMap((document) => blocksInOrder(document).map(({ name }) => name))),
  ),
  column("pass", "whole number", "Run through the block's rows, from 1", ({ record }) => record.pass),
  column("trial", "whole number", "Number of the trial in the session, from 1", ({ record }) => record.trial),
  column(
    "row",
    "whole number",
    "Row of the trial table, from 1",
    ({ block, record }) => indexOf(block).rows.get(record.row)?.number ?? null,
  ),
];

/** What is looked up for every record of a block, worked out once a block: a document is never changed in place. */
type BlockIndex = {
  rows: Map<Id, { number: number; row: Row }>;
  sceneByStem: Map<string, Id>;
  cells: Map<string, Map<string, Cell>>;
};
const indexes = new WeakMap<Block, BlockIndex>();

function indexOf(block: Block): BlockIndex {
  const known = indexes.get(block);
  if (known) return known;
  const made: BlockIndex = {
    rows: new Map(block.table.rows.map((row, place) => [row.id, { number: place + 1, row }])),
    sceneByStem: new Map(block.scenes.map(({ id, name }) => [columnStem(name), id])),
    cells: new Map(),
  };
  indexes.set(block, made);
  return made;
}

/** The cells of the table's row behind a record, by column name, as they are exported for its group. */
function cellsOf({ block, record, facts, document }: Source): Map<string, Cell> {
  const { rows, cells } = indexOf(block);
  const key = `${record.row} ${facts.group}`;
  const known = cells.get(key);
  if (known) return known;
  const row = rows.get(record.row)?.row;
  const values = row ? rowValues(document, block, row, facts.group) : {};
  const made = new Map(
    block.table.columns.map((each): [string, Cell] => {
      const value = values[each.id] ?? null;
      return [each.name, value === null || typeof value === "number" ? value : cellAsText(document, each, value)];
    }),
  );
  cells.set(key, made);
  return made;
}

function tableColumns(blocks: { document: StudyDocument; block: Block }[]): ExportColumn[] {
  const names = [...new Set(blocks.flatMap(({ block }) => block.table.columns.map(({ name }) => name)))];
  return names.map((name) => {
    const having = blocks.flatMap(({ document, block }) =>
      block.table.columns.filter((each) => each.name === name).map((found) => ({ document, block, found })),
    );
    const numeric = having.every(({ found }) => found.type === "number");
    const seen = having.flatMap(({ document, block, found }) =>
      document.groups.flatMap(({ id }) =>
        block.table.rows.map((row) =>
          cellAsText(document, found, rowValues(document, block, row, id)[found.id] ?? null),
        ),
      ),
    );
    const factor = having.some(({ found }) => found.factor);
    return column(
      name,
      numeric ? "number" : "text",
      `${factor ? "Factor" : "Column"} of the trial table`,
      (source) => cellsOf(source).get(name) ?? null,
      "",
      joined(seen.filter(Boolean)),
    );
  });
}

type AnswerRead = (given: AnswerRecord, source: Source) => Cell;

/**
 * For each answer what was given, whether it was right, and how fast. Where a block has several answers, all columns
 * carry the answer's name (`answer_choice`); else they have none, and blocks share them.
 */
function answerColumns(blocks: Block[]): ExportColumn[] {
  return eachAnswer(blocks, (suffix, of, called) => [
    column(
      `answer${suffix}`,
      "text",
      `What the participant answered${called} within the answer window; empty when there was none`,
      of(({ given }) => given?.value ?? null),
    ),
    column(
      `right${suffix}`,
      "yes/no",
      `Whether the answer${called} was the right one; empty without an answer or without a right answer`,
      of(({ right }) => (right === null ? null : yesNo(right))),
      "",
      "yes, no",
    ),
    column(
      `rt_ms${suffix}`,
      "number",
      `Reaction time${called}: from the onset from which it counts to the input event`,
      of(({ given }) => (given ? tenth(given.rt) : null)),
      "milliseconds",
    ),
  ]);
}

/** How each answer ended, and what is known of it beside the answer: behind the columns of the format. */
function answerFates(blocks: Block[]): ExportColumn[] {
  const devices = new Set(blocks.flatMap(({ answers }) => answers.flatMap(({ by }) => by.map(({ device }) => device))));
  const revised = blocks.some(({ answers }) => answers.some(({ counts }) => counts === "last"));
  const columns = eachAnswer(blocks, (suffix, of, called) => [
    column(
      `outcome${suffix}`,
      "text",
      `How the answer${called} ended, in one word; “too early” and “too late” are answers outside the window`,
      of(({ outcome }) => outcome),
      "",
      outcomes.join(", "),
    ),
    column(
      `early_answers${suffix}`,
      "whole number",
      `Answers${called} given before the window opened (anticipations)`,
      of(({ early }) => early.length),
    ),
    ...(revised
      ? [
          column(
            `changes${suffix}`,
            "whole number",
            `How often the answer${called} was changed, where the last one counts`,
            of(({ revised }) => revised.length),
          ),
        ]
      : []),
    ...(devices.has("pointer")
      ? (["x", "y"] as const).map((axis) =>
          column(
            `answer_${axis}${suffix}`,
            "number",
            `Where the answer${called} was pointed at: ${axis}, from the centre of the stage`,
            of(({ given }) => (given?.input[axis] === undefined ? null : tenth(given.input[axis]))),
            "stage units",
          ),
        )
      : []),
  ]);
  return columns.length > 0
    ? columns
    : [column("outcome", "text", "How the trial ended; no answer is taken", () => "none")];
}

/** Columns for each of the answers' names, read from the answer of that name in the trial's own block. */
function eachAnswer(
  blocks: Block[],
  make: (suffix: string, of: (read: AnswerRead) => ExportColumn["read"], called: string) => ExportColumn[],
): ExportColumn[] {
  if (blocks.every(({ answers }) => answers.length === 0)) return [];
  if (blocks.every(({ answers }) => answers.length <= 1))
    return make(
      "",
      (read) => (source) => (source.record.answers[0] ? read(source.record.answers[0], source) : null),
      "",
    );
  const stems = new Map(blocks.flatMap(({ answers }) => answers.map(({ name }) => [columnStem(name), name] as const)));
  return [...stems].flatMap(([stem, name]) =>
    make(
      `_${stem}`,
      (read) => (source) => {
        const spec = source.block.answers.find((each) => columnStem(each.name) === stem);
        const found = source.record.answers.find(({ answer }) => answer === spec?.id);
        return found ? read(found, source) : null;
      },
      ` “${name}”`,
    ),
  );
}

/** What items of their own time or of drawn places did: columns by scene and item, for the kinds and settings that have them. */
function itemColumns(blocks: Block[]): ExportColumn[] {
  const made = new Map<string, ExportColumn>();
  const stemOf = (scene: Scene, item: Item) => `${columnStem(scene.name)}_${columnStem(item.name)}`;
  for (const block of blocks)
    for (const scene of block.scenes)
      for (const item of scene.items) {
        const stem = stemOf(scene, item);
        const find = (source: Source) =>
          source.block.scenes.flatMap((each) => each.items.filter((one) => stemOf(each, one) === stem))[0]?.id;
        const seen = (what: Observation["what"], source: Source) => {
          const id = find(source);
          return source.record.observed.filter((each) => each.item === id && each.what === what);
        };
        const called = `Item “${item.name}” in scene “${scene.name}”`;
        const add = (each: ExportColumn) => made.has(each.name) || made.set(each.name, each);
        const hasOwnTime = item.begins !== undefined || item.ends !== undefined;
        if (hasOwnTime || item.kind === "sound" || item.kind === "video")
          for (const what of ["began", "ended"] as const)
            add(
              column(
                `${stem}_${what}_ms`,
                "number",
                `${called}: when it ${what === "began" ? "came on or began to play" : "went or came to its end"}, from the session's start`,
                (source) => {
                  const [first] = seen(what, source);
                  return first ? tenth(first.at) : null;
                },
                "milliseconds",
              ),
            );
        if (item.kind === "sound" || item.kind === "video")
          add(
            column(
              `${stem}_offset_ms`,
              "number",
              `${called}: by how much it was later (below 0: earlier) than the frame it belongs to, as far as the browser can tell`,
              (source) => seen("began", source)[0]?.offset ?? null,
              "milliseconds",
            ),
          );
        if (item.kind === "video" || (item.kind === "grating" && item.drift !== 0))
          add(
            column(
              `${stem}_late_frames`,
              "whole number",
              `${called}: frames of it that were dropped or late while it was on`,
              (source) => seen("ended", source)[0]?.lateFrames ?? null,
              "frames",
            ),
          );
        if (item.kind === "web")
          add(
            column(`${stem}_sent`, "text", `${called}: values its page sent, in order`, (source) => {
              const values = seen("value", source).map(({ value }) => value ?? "");
              return values.length > 0 ? values.join("; ") : null;
            }),
          );
        if (item.kind === "array")
          add(
            column(
              `${stem}_places`,
              "text",
              `${called}: where its elements were drawn, each as x y, the target marked with *, from the array's centre`,
              (source) => {
                const elements = source.record.placed[find(source) ?? ""];
                return elements
                  ? elements.map(({ x, y, isTarget }) => `${x} ${y}${isTarget ? "*" : ""}`).join("; ")
                  : null;
              },
              "stage units",
            ),
          );
      }
  return [...made.values()];
}

function sceneColumns(blocks: Block[]): ExportColumn[] {
  const stems = new Map<string, string>();
  for (const block of blocks)
    for (const { name } of block.scenes) if (!stems.has(columnStem(name))) stems.set(columnStem(name), name);
  return [...stems].flatMap(([stem, name]) => {
    const shown = ({ block, record }: Source) => {
      const scene = indexOf(block).sceneByStem.get(stem);
      return scene === undefined ? undefined : record.scenes.find((each) => each.scene === scene);
    };
    const of = (read: (scene: NonNullable<ReturnType<typeof shown>>) => number | null) => (source: Source) => {
      const scene = shown(source);
      const value = scene ? read(scene) : null;
      return value === null ? null : tenth(value);
    };
    return [
      column(
        `${stem}_onset_ms`,
        "number",
        `Scene “${name}”: frame in which it came on, from the session's start`,
        of(({ onset }) => onset),
        "milliseconds",
      ),
      column(
        `${stem}_lasted_ms`,
        "number",
        `Scene “${name}”: how long it was on, measured`,
        of(({ onset, end }) => end - onset),
        "milliseconds",
      ),
      column(
        `${stem}_planned_ms`,
        "number",
        `Scene “${name}”: how long it was to be on at most; empty where only an answer ends it`,
        of(({ planned }) => planned),
        "milliseconds",
      ),
    ];
  });
}

/** How many frames scenes were on and were to be on: where these differ, a scene was late or early. */
function frameColumns(blocks: Block[]): ExportColumn[] {
  const stems = new Map(blocks.flatMap(({ scenes }) => scenes.map(({ name }) => [columnStem(name), name] as const)));
  return [...stems].flatMap(([stem, name]) => {
    const of = (read: (ended: SceneEnd) => Cell) => (source: Source) => {
      const id = indexOf(source.block).sceneByStem.get(stem);
      const ended = source.record.scenes.find(({ scene }) => scene === id)?.ended;
      return ended ? read(ended) : null;
    };
    return [
      column(
        `${stem}_frames`,
        "whole number",
        `Scene “${name}”: refreshes of the display it was on`,
        of(({ frames }) => frames),
        "frames",
      ),
      column(
        `${stem}_planned_frames`,
        "whole number",
        `Scene “${name}”: refreshes it was to be on, its time rounded to the display's frames; empty unless its time was up`,
        of(({ by, planned }) => (by === "time" ? planned : null)),
        "frames",
      ),
    ];
  });
}

const interrupted = column(
  "trial_interrupted",
  "text",
  "What came between while the trial was played, in a study that finishes such trials: another window (focus), full screen left, Escape pressed (asked); empty where nothing did",
  ({ record }) => record.interrupted ?? null,
  "",
  interruptions.filter((each) => each !== "withdrawn").join(", "),
);

const closing: ExportColumn[] = [
  column(
    "late_frames",
    "whole number",
    "Frames by which scenes of this trial came too late, together",
    ({ record }) => record.lateFrames,
    "frames",
  ),
  column(
    "pilot",
    "yes/no",
    "Whether the session was a rehearsal by the team",
    ({ facts }) => yesNo(facts.pilot),
    "",
    "yes, no",
  ),
];

/** One trial as a row of the table; throws when its block is not in the document it was recorded on. */
export function trialRow(
  columns: readonly ExportColumn[],
  document: StudyDocument,
  facts: SessionFacts,
  record: TrialRecord,
): Cell[] {
  const block = document.parts[record.part];
  if (block?.kind !== "block") throw new Error(`No block ${record.part} in release ${facts.release}`);
  const source: Source = { facts, record, block, document };
  return columns.map(({ read }) => read(source));
}
