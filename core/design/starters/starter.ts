import { freshAllocation } from "../allocation";
import { newKeys } from "../../devices/keys/keys";
import { type Page, newPage } from "../page";
import { newSettings } from "../settings";
import { newShapeItem } from "../../items/shape/shape";
import { type TextItem, newTextItem } from "../../items/text/text";
import type { Pool } from "../../values/pool";
import type { Id, NewId, Scalar } from "../../values/ref";
import type { AnswerSpec } from "../answer";
import type { Block } from "../block";
import type { Column, Row } from "../../values/table";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import type { StudyDocument } from "../document";
import { currentVersion } from "../version";

/** A small complete study to begin from: what it is called, what it measures, and how it is made. */
export type Starter = {
  id: string;
  title: string;
  /** What it measures, in a sentence for choosing it. */
  measures: string;
  /** What participants are told, a paragraph each. */
  make: (newId: NewId) => { instructions: string[]; blocks: Block[]; pools?: Pool[] };
};

/** A column with its values, a row each. */
export type Filled = { column: Column; values: (Scalar | null)[] };
export const filled = (
  newId: NewId,
  name: string,
  type: Column["type"],
  factor: boolean,
  values: Scalar[],
): Filled => ({
  column: { id: newId("column"), name, type, factor },
  values,
});

export const rowsOf = (newId: NewId, columns: Filled[], copies: number): Row[] =>
  (columns[0]?.values ?? []).map((_, index) => ({
    id: newId("row"),
    copies,
    cells: Object.fromEntries(columns.map(({ column, values }) => [column.id, values[index] ?? null])),
  }));

export const ref = ({ column }: Filled): { from: { column: Id } } => ({ from: { column: column.id } });

export const cross = (newId: NewId): Item => ({
  ...newShapeItem(newId, "cross"),
  form: "cross",
  size: { w: 8, h: 8 },
  fill: "transparent",
  line: "#17211e",
  lineWidth: 1,
});

export const fixation = (newId: NewId): Scene => ({
  id: newId("scene"),
  name: "fixation",
  lasts: { kind: "random-ms", from: 400, to: 800, step: 50 },
  items: [cross(newId)],
});

export const shownText = (newId: NewId, name: string, column: Filled, fontSize = 9): TextItem => ({
  ...newTextItem(newId, name, ""),
  text: [{ as: "paragraph", runs: [{ ref: { column: column.column.id } }] }],
  fontSize,
});

export const said = (newId: NewId, name: string, text: string, fontSize = 5): TextItem => ({
  ...newTextItem(newId, name, text),
  fontSize,
});

/** A scene that says whether the answer was right, with the time it took. */
export const feedback = (newId: NewId): Scene => {
  const word = (name: string, outcome: string, runs: TextItem["text"][number]["runs"]): TextItem => ({
    ...newTextItem(newId, name, ""),
    text: [{ as: "paragraph", runs }],
    when: { left: { from: { builtIn: "last.outcome" } }, is: "=", right: outcome },
  });
  return {
    id: newId("scene"),
    name: "feedback",
    lasts: { kind: "ms", ms: 600 },
    items: [
      word("was right", "right", [{ text: "Right: " }, { ref: { builtIn: "last.rt_ms" } }, { text: " ms" }]),
      word("was wrong", "wrong", [{ text: "Wrong" }]),
      word("none came", "none", [{ text: "Too slow" }]),
      word("came too early", "too early", [{ text: "Too early" }]),
    ],
  };
};

export const keyAnswer = (newId: NewId, scene: Scene, keys: string[], right: AnswerSpec["right"]): AnswerSpec => ({
  id: newId("answer"),
  name: "answer",
  opensWith: scene.id,
  closesWith: scene.id,
  by: [newKeys(keys)],
  ...(right === undefined ? {} : { right }),
  match: "exact",
  counts: "first",
  onAnswer: "move-on",
  onEarly: "go-on",
});

export const blockOfTrials = (
  newId: NewId,
  name: string,
  columns: Filled[],
  copies: number,
  scenes: Scene[],
  answers: AnswerSpec[],
): Block => ({
  kind: "block",
  id: newId("block"),
  name,
  table: { columns: columns.map(({ column }) => column), rows: rowsOf(newId, columns, copies) },
  scenes,
  answers,
  order: { method: "shuffled", passes: 1, limits: [] },
  practice: false,
  rules: [],
  notes: "",
});

/** The whole study of a starter: a welcome that tells what to do, its blocks, an ending. */
export function studyFrom(starter: Starter, newId: NewId, title: string, seed: string): StudyDocument {
  const { instructions, blocks, pools = [] } = starter.make(newId);
  const page = (name: string, label: string, paragraphs: string[]): Page => ({
    ...newPage(
      newId,
      name,
      paragraphs.map((text, index) => ({
        as: index === 0 ? ("heading" as const) : ("paragraph" as const),
        runs: [{ text }],
      })),
    ),
    continueLabel: label,
  });
  const parts = [
    page("Welcome", "Begin", [title, ...instructions]),
    ...blocks,
    page("Goodbye", "Finish", ["That was all", "Thank you for taking part."]),
  ];
  return {
    format: "lapwing-study",
    version: currentVersion,
    title,
    description: starter.measures,
    language: "en",
    groups: [{ id: newId("group"), name: "Everyone" }],
    groupValues: [],
    variables: [],
    rules: [],
    pools,
    services: [],
    sittings: [],
    scores: [],
    runningOrder: parts.map(({ id }) => ({ kind: "part", part: id })),
    parts: Object.fromEntries(parts.map((part) => [part.id, part])),
    media: [],
    allocation: freshAllocation,
    settings: newSettings(seed),
  };
}
