import { cellAsText } from "../design/cells";
import { blocksInOrder } from "../design/lookup";
import { columnStem } from "../design/names";
import { rowValues } from "../compile/values";
import type { Block, Id, Row, StudyDocument } from "../design/types";
import type { TrialRecord } from "../run/records";

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
 * scenes, then late frames and pilot, then the outcome in one word. Made from all releases that have data, newest first:
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

/** Blocks have one answer each for now, so its columns need no suffix. */
const answerColumns = (blocks: Block[]): ExportColumn[] =>
  blocks.every(({ answers }) => answers.length === 0)
    ? []
    : [
        column(
          "answer",
          "text",
          "Key the participant pressed within the answer window; empty when there was none",
          ({ record }) => record.answer?.value ?? null,
        ),
        column(
          "right",
          "yes/no",
          "Whether the answer was the right one; empty without an answer or without a right answer",
          ({ record }) => (record.right === null ? null : yesNo(record.right)),
          "",
          "yes, no",
        ),
        column(
          "rt_ms",
          "number",
          "Reaction time: from the onset of the scene that opens the answer window to the input event",
          ({ record }) => (record.answer ? tenth(record.answer.rt) : null),
          "milliseconds",
        ),
      ];

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
  column(
    "outcome",
    "text",
    "The trial in one word; “too late” is an answer after the window had closed",
    ({ record }) => record.outcome,
    "",
    "right, wrong, answered, none, too late",
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
