import { currentVersion } from "./version";
import type {
  Allocation,
  AnswerSpec,
  Block,
  ElementLook,
  FormattedText,
  Id,
  ImageItem,
  Item,
  ItemKind,
  KeyDevice,
  Page,
  Participation,
  Scene,
  Settings,
  ShapeItem,
  StudyDocument,
  TextItem,
} from "./types";

/** Gives a fresh id with the prefix, for example `scene-7fk2`. Passed in, so that the core stays free of chance. */
export type NewId = (prefix: string) => Id;

/** What participants meet in a new study: no more than the link, the study and thanks. */
export const newParticipation = (): Participation => ({
  welcome: "",
  contact: "",
  ownCode: "none",
  checks: { keyboard: false, sound: false },
  elsewhere: false,
  interrupted: "finish",
  withdrawn: "keep",
  wording: {},
});

export const newSettings = (seed: string): Settings => ({
  seed,
  stageColor: "#eeeadf",
  textColor: "#17211e",
  fullScreen: false,
  progressBar: true,
  participation: newParticipation(),
});

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

const placed = { at: { x: 0, y: 0 }, turned: 0, locked: false };

export function newTextItem(newId: NewId, name: string, text: string): TextItem {
  return {
    kind: "text",
    id: newId("item"),
    name,
    ...placed,
    text: plainText(text),
    font: "Atkinson Hyperlegible Next",
    fontSize: 6,
    color: "#17211e",
    weight: "regular",
    align: "center",
    lineSpacing: 1.3,
    direction: "auto",
    width: 80,
  };
}

export function newImageItem(newId: NewId, name: string, picture: string): ImageItem {
  return {
    kind: "image",
    id: newId("item"),
    name,
    ...placed,
    picture,
    fit: "inside",
    size: { w: 20, h: 20 },
    faces: "right",
    upsideDown: false,
    opacity: 100,
  };
}

export function newShapeItem(newId: NewId, name: string): ShapeItem {
  return {
    kind: "shape",
    id: newId("item"),
    name,
    ...placed,
    form: "rectangle",
    size: { w: 20, h: 20 },
    fill: "#2e7d8c",
    line: "transparent",
    lineWidth: 0.5,
    corners: 5,
    gap: 29,
    opacity: 100,
  };
}

const newLook = (color: string): ElementLook => ({ form: "ellipse", color, picture: "", text: "", turned: 0 });
const control = { fontSize: 4, fill: "#0e5a4e", color: "#ffffff" };

const makers: { [K in ItemKind]: (newId: NewId, name: string) => Extract<Item, { kind: K }> } = {
  text: (newId, name) => newTextItem(newId, name, "Text"),
  image: (newId, name) => newImageItem(newId, name, ""),
  shape: newShapeItem,
  grating: (newId, name) => ({
    kind: "grating",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 30, h: 30 },
    wave: "sine",
    envelope: "gaussian",
    frequency: 0.3,
    phase: 0,
    contrast: 80,
    mean: 50,
    drift: 0,
  }),
  array: (newId, name) => ({
    kind: "array",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 70, h: 70 },
    arrangement: "ring",
    count: 8,
    element: 6,
    across: 6,
    upright: 6,
    distance: 9,
    present: true,
    targetIn: "anywhere",
    target: newLook("#a3460f"),
    others: newLook("#2e7d8c"),
  }),
  sound: (newId, name) => ({
    kind: "sound",
    id: newId("item"),
    name,
    source: { from: "tone", hertz: 440, ms: 200, rampMs: 10 },
    volume: 50,
    balance: 0,
    loop: false,
  }),
  video: (newId, name) => ({
    kind: "video",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 60, h: 45 },
    file: "",
    startMs: 0,
    stopMs: null,
    fit: "inside",
    volume: 100,
    atEnd: "hold",
  }),
  web: (newId, name) => ({
    kind: "web",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 80, h: 60 },
    page: { from: "address", address: "" },
  }),
  button: (newId, name) => ({
    kind: "button",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 24, h: 9 },
    label: name,
    ...control,
  }),
  entry: (newId, name) => ({
    kind: "entry",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 40, h: 8 },
    lines: "one",
    takes: "text",
    longest: 200,
    hint: "",
    fontSize: control.fontSize,
  }),
  slider: (newId, name) => ({
    kind: "slider",
    id: newId("item"),
    name,
    ...placed,
    size: { w: 70, h: 12 },
    from: 0,
    to: 100,
    step: 1,
    leftLabel: "not at all",
    rightLabel: "very much",
    start: null,
    fontSize: control.fontSize,
  }),
};
export const newItem = (newId: NewId, kind: ItemKind, name: string): Item => makers[kind](newId, name);

export const newScene = (newId: NewId, name: string): Scene => ({
  id: newId("scene"),
  name,
  lasts: { kind: "ms", ms: 500 },
  items: [],
});

export const newKeys = (keys: KeyDevice["keys"]): KeyDevice => ({
  device: "keys",
  keys,
  by: "letter",
  act: "press",
  holdMs: 0,
});

export function newAnswer(opensWith: Id, closesWith: Id, newId: NewId): AnswerSpec {
  return {
    id: newId("answer"),
    name: "answer",
    opensWith,
    closesWith,
    by: [newKeys(["f", "j"])],
    match: "exact",
    counts: "first",
    onAnswer: "move-on",
    onEarly: "go-on",
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

/** Permuted blocks that hold every group once; finished sessions and those alive within the hour hold their places. */
export const freshAllocation: Allocation = {
  method: "permuted-blocks",
  blockSizes: [1],
  strata: [],
  counts: { sessions: "finished-and-active", activeMinutes: 60, excluded: "gives-back" },
};

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
    allocation: freshAllocation,
    settings: newSettings(seed),
  };
}
