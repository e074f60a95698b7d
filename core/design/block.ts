import { newShapeItem } from "../items/shape/shape";
import { newTextItem } from "../items/text/text";
import { markers } from "../markers/marker";
import { criterion } from "../rules/criterion";
import { rules } from "../rules/rule";
import { list, object } from "../shape/compound";
import { number, only, title, whole, yesNo } from "../shape/plain";
import { optional, type Of, type Shape } from "../shape/shape";
import { formattedText } from "../values/formatted-text";
import { id, type NewId } from "../values/ref";
import { trialTable } from "../values/table";
import { answer, newAnswer } from "./answer";
import { notes } from "./notes";
import { newScene, scene, type Scene } from "./scene";
import { trialOrder } from "./trial-order";

const breaks = object({
  everyTrials: whole(1, 10_000),
  /** The text shown meanwhile; it can include the block's accuracy and mean reaction time. */
  body: formattedText,
  /** The participant can continue only after this time. */
  leastSeconds: number({ least: 0, most: 3600, tooLarge: "must be at most an hour" }),
});
/** A rest after every so many trials of a block, but not after its last one. */
export type Breaks = Of<typeof breaks>;

const blockFields = object({
  kind: only("block"),
  id,
  name: title(),
  /** The block whose trials these are too: table, scenes and answers are the same in both, an edit in one reaches the other. */
  sharesWith: optional(id),
  table: trialTable,
  scenes: list(scene, 0, 100),
  answers: list(answer, 0, 20),
  order: trialOrder,
  practice: yesNo,
  /** Whether each scene is timed from its own onset (the rule), or all of a trial from the trial's. */
  timedFrom: optional(only("trial")),
  /** It is repeated until this is reached. */
  criterion: optional(criterion),
  breaks: optional(breaks),
  /** Looked at in each of its trials, before those of the scene. */
  rules,
  /** Moments of its trials that devices and data are told of. */
  markers: optional(markers),
  notes,
});
/** Trials made from one trial template and one trial table. */
export interface Block extends Of<typeof blockFields> {}
export const block: Shape<Block> = blockFields;

/** A block that already runs: a cross, then a word from the table until F or J is pressed. */
export function newBlock(newId: NewId, name: string): Block {
  const [word, key] = [newId("column"), newId("column")];
  const cross = {
    ...newShapeItem(newId, "cross"),
    form: "cross" as const,
    size: { w: 8, h: 8 },
    fill: "transparent",
    line: "#17211e",
    lineWidth: 1,
  };
  const shown = {
    ...newTextItem(newId, "word", ""),
    text: [{ as: "paragraph" as const, runs: [{ ref: { column: word } }] }],
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
