import { freshAllocation } from "../../core/design/allocation";
import { newKeys } from "../../core/devices/keys/keys";
import { newParticipation } from "../../core/design/participation";
import { currentVersion } from "../../core/design/version";
import type { Block } from "../../core/design/block";
import type { Column, Row } from "../../core/values/table";
import type { Condition } from "../../core/values/condition";
import type { FormattedText, Paragraph, Run } from "../../core/values/formatted-text";
import type { ImageItem } from "../../core/items/image/image";
import type { Item } from "../../core/items/registry";
import type { MediaFile } from "../../core/values/study-values";
import { plainPage, type Page } from "../../core/design/page";
import type { Question, QuestionOf } from "../../core/questions/registry";
import type { Ref } from "../../core/values/ref";
import type { Scene } from "../../core/design/scene";
import type { StudyDocument } from "../../core/design/document";
import type { TextItem } from "../../core/items/text/text";

const upriver: Ref = { groupValue: "upriver" };
const downriver: Ref = { groupValue: "downriver" };

const line = (as: Paragraph["as"], ...runs: (string | Ref | Run)[]): Paragraph => ({
  as,
  runs: runs.map((run) =>
    typeof run === "string" ? { text: run } : "text" in run || "ref" in run ? run : { ref: run, marks: ["bold"] },
  ),
});
const page = (
  id: string,
  name: string,
  continueLabel: string,
  text: FormattedText,
  questions: Question[] = [],
): Page => ({
  kind: "page",
  id,
  name,
  flow: [{ kind: "text", id: `${id}-text`, text }, ...questions],
  ...plainPage,
  continueLabel,
});

const asks = (id: string, text: string) => ({
  id: `q-${id.replace("_", "-")}`,
  name: id,
  text: [line("paragraph", text)],
  explanation: "",
  need: "reminder" as const,
  ratherNot: false,
});
/** Seven points with words at their ends. */
const rated = (id: string, text: string, first: string, last: string): Question => ({
  kind: "scale",
  ...asks(id, text),
  points: 7,
  from: 1,
  labels: [first, "", "", "", "", "", last],
  numbers: true,
  reversed: false,
});
const yesOrNo = (id: string, text: string): QuestionOf<"one-of"> => ({
  kind: "one-of",
  ...asks(id, text),
  options: ["no", "yes"].map((label) => ({ id: `${id.replace("_", "-")}-${label}`, label })),
  order: "listed",
  layout: "list",
});

const columns: Column[] = [
  { id: "neighbours", name: "neighbours", type: "text", factor: true },
  { id: "direction", name: "direction", type: "text", factor: true },
  { id: "others", name: "others", type: "text", factor: false },
  { id: "bird", name: "bird", type: "image", factor: false },
  {
    id: "key",
    name: "key",
    type: "text",
    factor: false,
    cases: {
      by: ["direction"],
      when: [
        { is: ["left"], gives: { from: upriver } },
        { is: ["right"], gives: { from: downriver } },
      ],
      otherwise: null,
    },
  },
];
const otherWay: Record<string, string> = { left: "right", right: "left" };
const rows = (copies: (neighbours: string) => number): Row[] =>
  ["with", "against", "none"].flatMap((neighbours) =>
    ["left", "right"].flatMap((direction) =>
      ["dunlin", "knot"].map((bird): Row => ({
        id: `${neighbours}-${direction}-${bird}`,
        copies: copies(neighbours),
        cells: {
          neighbours,
          direction,
          others: neighbours === "against" ? (otherWay[direction] ?? "") : direction,
          bird,
        },
      })),
    ),
  );

const hasNeighbours: Condition = { left: { from: { column: "neighbours" } }, is: "≠", right: "none" };
const bird = (index: number, gap: number, size: number): ImageItem => {
  const isMiddle = index === 3;
  return {
    kind: "image",
    id: `bird-${index}`,
    name: isMiddle ? "middle bird" : `bird ${index}`,
    at: { x: (index - 3) * gap, y: 0 },
    turned: 0,
    locked: false,
    fit: "inside",
    upsideDown: false,
    picture: { from: { column: "bird" } },
    size: { w: size, h: Math.round(size * 0.64) },
    faces: { from: { column: isMiddle ? "direction" : "others" } },
    opacity: 100,
    ...(isMiddle ? {} : { when: hasNeighbours }),
  };
};
const cross: Item = {
  kind: "shape",
  id: "cross",
  name: "cross",
  at: { x: 0, y: 0 },
  turned: 0,
  locked: false,
  corners: 5,
  gap: 29,
  opacity: 100,
  form: "cross",
  size: { w: 8, h: 8 },
  fill: "transparent",
  line: "#17211e",
  lineWidth: 1,
};
const word = (id: string, outcome: string, ...runs: (string | Ref)[]): TextItem => ({
  kind: "text",
  id,
  name: id.replaceAll("-", " "),
  at: { x: 0, y: 0 },
  turned: 0,
  locked: false,
  font: "Atkinson Hyperlegible Next",
  lineSpacing: 1.3,
  direction: "auto",
  text: [line("paragraph", ...runs)],
  fontSize: 9,
  color: "#17211e",
  weight: "bold",
  align: "center",
  width: 90,
  when: { left: { from: { builtIn: "last.outcome" } }, is: "=", right: outcome },
});

const fixation: Scene = {
  id: "fixation",
  name: "fixation",
  lasts: { kind: "random-ms", from: 400, to: 800, step: 50 },
  items: [cross],
};
const flock = (gap: number, size: number): Scene => ({
  id: "flock",
  name: "flock",
  lasts: { kind: "ms", ms: 150 },
  items: [1, 2, 3, 4, 5].map((index) => bird(index, gap, size)),
});
const mud: Scene = { id: "mud", name: "mud", lasts: { kind: "until-answer", atMostMs: 1350 }, items: [] };
const feedback: Scene = {
  id: "word",
  name: "word",
  lasts: { kind: "ms", ms: 700 },
  items: [
    word("was-right", "right", "Right: ", { builtIn: "last.rt_ms" }, " ms"),
    word("was-wrong", "wrong", "It walked the other way"),
    word("no-answer", "none", "Too slow: answer a little sooner"),
    word("too-late", "too late", "Too slow: answer a little sooner"),
  ],
};

const block = (
  id: string,
  name: string,
  scenes: Scene[],
  copies: (neighbours: string) => number,
  passes: number,
  practice: boolean,
): Block => ({
  kind: "block",
  id,
  name,
  table: { columns, rows: rows(copies) },
  scenes,
  answers: [
    {
      id: "answer",
      name: "answer",
      opensWith: "flock",
      closesWith: "mud",
      by: [newKeys([{ from: upriver }, { from: downriver }])],
      counts: "first",
      onEarly: "go-on",
      right: { from: { column: "key" } },
      match: "exact",
      onAnswer: "move-on",
    },
  ],
  order: { method: "shuffled", passes, limits: [] },
  practice,
  rules: [],
  notes: "",
});

const parts = [
  page(
    "welcome",
    "Welcome and consent",
    "Begin",
    [
      line("heading", "Waders on a mudflat"),
      line(
        "paragraph",
        "In this study you see small flocks of shore birds for a moment and say which way one of them walks. It takes about three minutes.",
      ),
      line("bullet", "Taking part is voluntary. You may close the window at any time."),
      line("bullet", "We keep your answers and how long they took. We do not ask who you are."),
      line("paragraph", "If you agree, tick the box and begin."),
    ],
    [
      {
        kind: "agree",
        ...asks("consent", ""),
        need: "must",
        label: "I have read this and want to take part.",
      },
    ],
  ),
  page("how", "How to answer", "Try it", [
    line("heading", "Which way does the middle bird walk?"),
    line("paragraph", "Look at the cross. Then birds appear for a moment. Only the one in the middle counts."),
    line("bullet", "Press ", upriver, " when it walks upriver, to the left."),
    line("bullet", "Press ", downriver, " when it walks downriver, to the right."),
    line("paragraph", "Answer as fast as you can without making mistakes. You begin with a few birds to practise on."),
  ]),
  block("practice", "Practice", [fixation, flock(24, 22), mud, feedback], () => 1, 1, true),
  block(
    "near",
    "Near waders",
    [fixation, flock(24, 22), mud],
    (neighbours) => (neighbours === "none" ? 1 : 2),
    2,
    false,
  ),
  page("between", "A short rest", "Go on", [
    line("heading", "Half of it is done"),
    line(
      "paragraph",
      "Rest your eyes a little. The birds are farther away now; the keys stay the same: ",
      upriver,
      " for upriver, ",
      downriver,
      " for downriver.",
    ),
  ]),
  block("far", "Far waders", [fixation, flock(13, 12), mud], (neighbours) => (neighbours === "none" ? 1 : 2), 2, false),
  page(
    "after",
    "How it went",
    "Done",
    [
      line("heading", "How did it go?"),
      line(
        "paragraph",
        "You answered ",
        { builtIn: "session.trials_done" },
        " times. A few short questions, then we tell you what it was about.",
      ),
    ],
    [
      rated("effort", "How hard was it to look at the middle bird only?", "not at all", "very"),
      rated("tired", "How tired are your eyes now?", "not at all", "very"),
      yesOrNo("noticed", "Did you notice anything about the neighbours?"),
      {
        kind: "long-text",
        ...asks("noticed_what", "What did you notice?"),
        ratherNot: true,
        when: { left: { from: { question: "q-noticed" } }, is: "=", right: "yes" },
        most: 1000,
        lines: 3,
        counts: false,
      },
      {
        ...yesOrNo("use_data", "Did you take part with care, so that we may use your data?"),
        explanation: "Your answer has no other consequence for you.",
        need: "must",
      },
    ],
  ),
  page("about", "What it was about", "Finish", [
    line("heading", "What it was about"),
    line(
      "paragraph",
      "When the neighbours walk the other way, people need a little longer to say where the middle bird goes. We ask whether this is as much for birds far away as for birds nearby.",
    ),
    line("paragraph", "Thank you for taking part."),
  ]),
];

/** The demo study. `media` are its two pictures, `dunlin` and `knot`, as stored. */
export const waders = (media: MediaFile[]): StudyDocument => ({
  format: "lapwing-study",
  version: currentVersion,
  title: "Waders on a mudflat",
  description:
    "Which way does the middle bird walk, while its neighbours walk the same way, the other way, or are absent?",
  language: "en",
  groups: [
    { id: "sunrise", name: "Sunrise" },
    { id: "sunset", name: "Sunset" },
  ],
  groupValues: [
    { id: "upriver", name: "upriver", type: "key", perGroup: { sunrise: "f", sunset: "j" } },
    { id: "downriver", name: "downriver", type: "key", perGroup: { sunrise: "j", sunset: "f" } },
  ],
  variables: [],
  rules: [],
  pools: [],
  services: [],
  sittings: [],
  scores: [
    {
      id: "strain",
      name: "strain",
      of: "mean",
      from: [{ question: "q-effort" }, { question: "q-tired" }],
      atLeast: 1,
    },
  ],
  runningOrder: parts.map(({ id }) => ({ kind: "part", part: id })),
  parts: Object.fromEntries(parts.map((part) => [part.id, part])),
  media,
  allocation: freshAllocation,
  settings: {
    seed: "4F2A",
    stageColor: "#eeeadf",
    textColor: "#17211e",
    fullScreen: false,
    progressBar: true,
    participation: {
      ...newParticipation(),
      checks: { keyboard: true, sound: false },
      welcome:
        "You will see birds on a mudflat and say which way the one in the middle walks. It takes about three minutes.\nYou need a keyboard, and a quiet place where nobody interrupts you.",
      contact: "Mud and Tide Laboratory, waders@harbour.example",
    },
  },
});
