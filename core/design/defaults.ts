import { currentVersion } from "./schema";
import type {
  AnswerSpec,
  Block,
  FormattedText,
  Id,
  ImageItem,
  Item,
  ItemKind,
  Page,
  Scene,
  ShapeItem,
  StudyDocument,
  TextItem,
} from "./types";

/** Gives a fresh id with the prefix, for example `scene-7fk2`. Passed in, so that the core stays free of chance. */
export type NewId = (prefix: string) => Id;

/** Plain text as formatted text: one paragraph a line. */
export const plainText = (text: string): FormattedText =>
  text.split("\n").map((line) => ({ as: "paragraph" as const, runs: line === "" ? [] : [{ text: line }] }));

export function newPage(newId: NewId, name: string): Page {
  return {
    kind: "page",
    id: newId("page"),
    name,
    body: plainText("Write here what participants read."),
    continueLabel: "Continue",
    notes: "",
  };
}

export function newTextItem(newId: NewId, name: string, text: string): TextItem {
  return {
    kind: "text",
    id: newId("item"),
    name,
    at: { x: 0, y: 0 },
    text: plainText(text),
    fontSize: 6,
    color: "#17211e",
    weight: "regular",
    align: "center",
    width: 80,
  };
}

export function newImageItem(newId: NewId, name: string, picture: string): ImageItem {
  return {
    kind: "image",
    id: newId("item"),
    name,
    at: { x: 0, y: 0 },
    picture,
    size: { w: 20, h: 20 },
    faces: "right",
    opacity: 100,
  };
}

export function newShapeItem(newId: NewId, name: string): ShapeItem {
  return {
    kind: "shape",
    id: newId("item"),
    name,
    at: { x: 0, y: 0 },
    form: "rectangle",
    size: { w: 20, h: 20 },
    fill: "#2e7d8c",
    line: "transparent",
    lineWidth: 0.5,
  };
}

const makers: Record<ItemKind, (newId: NewId, name: string) => Item> = {
  text: (newId, name) => newTextItem(newId, name, "Text"),
  image: (newId, name) => newImageItem(newId, name, ""),
  shape: newShapeItem,
};
export const newItem = (newId: NewId, kind: ItemKind, name: string): Item => makers[kind](newId, name);

export const newScene = (newId: NewId, name: string): Scene => ({
  id: newId("scene"),
  name,
  lasts: { kind: "ms", ms: 500 },
  items: [],
});

export function newAnswer(opensWith: Id, closesWith: Id, newId: NewId): AnswerSpec {
  return {
    id: newId("answer"),
    name: "answer",
    opensWith,
    closesWith,
    by: [{ device: "keys", keys: ["f", "j"] }],
    match: "exact",
    onAnswer: "move-on",
  };
}

/** A block that already runs: a cross, then a word from the table until F or J is pressed. */
export function newBlock(newId: NewId, name: string): Block {
  const [word, key] = [newId("column"), newId("column")];
  const cross: ShapeItem = {
    ...newShapeItem(newId, "cross"),
    form: "cross",
    size: { w: 8, h: 8 },
    fill: "transparent",
    line: "#17211e",
    lineWidth: 1,
  };
  const shown: TextItem = {
    ...newTextItem(newId, "word", ""),
    text: [{ as: "paragraph", runs: [{ ref: { column: word } }] }],
    fontSize: 9,
  };
  const fixation: Scene = { ...newScene(newId, "fixation"), items: [cross] };
  const target: Scene = {
    ...newScene(newId, "target"),
    lasts: { kind: "until-answer", atMostMs: 2000 },
    items: [shown],
  };
  return {
    kind: "block",
    id: newId("block"),
    name,
    table: {
      columns: [
        { id: word, name: "word", type: "text", factor: true },
        { id: key, name: "key", type: "text", factor: false },
      ],
      rows: [
        { id: newId("row"), copies: 1, cells: { [word]: "gull", [key]: "f" } },
        { id: newId("row"), copies: 1, cells: { [word]: "ferry", [key]: "j" } },
      ],
    },
    scenes: [fixation, target],
    answers: [{ ...newAnswer(target.id, target.id, newId), right: { from: { column: key } } }],
    order: { method: "shuffled", passes: 1, limits: [] },
    practice: false,
    rules: [],
    notes: "",
  };
}

/** A study that can be tried at once: one group, a welcome, one block, an ending. */
export function newStudy(newId: NewId, title: string, seed: string): StudyDocument {
  const welcome: Page = {
    ...newPage(newId, "Welcome"),
    body: plainText("Welcome, and thank you for taking part.\nPress the button when you are ready."),
  };
  const block = newBlock(newId, "Block 1");
  const ending: Page = {
    ...newPage(newId, "Goodbye"),
    body: plainText("That was all. Thank you."),
    continueLabel: "Finish",
  };
  return {
    format: "lapwing-study",
    version: currentVersion,
    title,
    description: "",
    language: "en",
    groups: [{ id: newId("group"), name: "Everyone" }],
    groupValues: [],
    variables: [],
    runningOrder: [welcome, block, ending].map(({ id }) => ({ kind: "part" as const, part: id })),
    parts: { [welcome.id]: welcome, [block.id]: block, [ending.id]: ending },
    media: [],
    allocation: { groups: "equal" },
    settings: { seed, stageColor: "#eeeadf", textColor: "#17211e", fullScreen: false, progressBar: true },
  };
}
