import { changeable } from "../items/changed";
import { list, object, variant } from "../shape/compound";
import { number, oneOf, only, text, title, whole } from "../shape/plain";
import { choosing, lazily, optional, type Of, type Shape } from "../shape/shape";
import { operand } from "../values/operand";
import { condition, type Condition } from "../values/condition";
import { formattedText } from "../values/formatted-text";
import { nameShape } from "../values/names";
import { id } from "../values/ref";

const milliseconds = (least: number) => number({ least, most: 3_600_000, tooLarge: "must be at most an hour" });

/** Again and again, so far apart, so often, or until a condition holds. */
const repeat: Shape<{ everyMs: number; times?: number | undefined; until?: Condition | undefined }> = lazily(() =>
  object({ everyMs: milliseconds(10), times: optional(whole(1, 1000)), until: optional(condition) }),
);
const timing = {
  /** So long after the rule was looked at; at once where it is left out. */
  afterMs: optional(milliseconds(0)),
  repeat: optional(repeat),
};

/** What a value is written into: a variable of the study, or the points. */
const target = choosing<{ variable: string } | { points: true }>((value) =>
  typeof value === "object" && value !== null && "points" in value
    ? object({ points: only(true) })
    : object({ variable: id }),
);
export type Target = Of<typeof target>;

const property = oneOf(...changeable);

const shapes = {
  set: object({ do: only("set"), what: target, to: operand, ...timing }),
  add: object({ do: only("add"), what: target, to: operand, ...timing }),
  append: object({ do: only("append"), variable: id, to: operand, ...timing }),
  /** Takes an entry at random out of a list, so that each comes once, into another variable. */
  draw: object({ do: only("draw"), from: id, what: id, ...timing }),
  item: object({ do: only("item"), item: id, property, to: operand, ...timing }),
  /** Plays a sound of the study's media. */
  sound: object({ do: only("sound"), file: id, volume: number({ least: 0, most: 100 }), ...timing }),
  /** Does something to a sound or video of the scene on show. */
  media: object({
    do: only("media"),
    item: id,
    act: oneOf("play", "pause", "stop", "volume"),
    volume: optional(operand),
    ...timing,
  }),
  "next-scene": object({ do: only("next-scene"), ...timing }),
  "go-to-scene": object({ do: only("go-to-scene"), scene: id, ...timing }),
  "end-trial": object({ do: only("end-trial"), ...timing }),
  "repeat-trial": object({
    do: only("repeat-trial"),
    /** After so many other trials; at the end of the block where it is left out. */
    afterTrials: optional(whole(1, 1000)),
    /** How often a trial is shown in all at most. */
    most: whole(2, 100),
    ...timing,
  }),
  "end-block": object({ do: only("end-block"), ...timing }),
  "begin-block-again": object({
    do: only("begin-block-again"),
    /** How often the block is played in all at most. */
    most: whole(2, 100),
    ...timing,
  }),
  "go-to-part": object({ do: only("go-to-part"), part: id, ...timing }),
  "end-session": object({
    do: only("end-session"),
    as: oneOf("finished", "screened-out"),
    text: formattedText,
    ...timing,
  }),
  page: object({ do: only("page"), page: id, ...timing }),
  event: object({ do: only("event"), name: title(60), value: optional(operand), ...timing }),
  marker: object({ do: only("marker"), marker: text({ missing: "is missing: name it", most: 60 }), ...timing }),
  /**
   * A small function in JavaScript, run apart from everything else: it gets values under these names, and what it gives
   * under others goes into variables when it comes.
   */
  script: object({
    do: only("script"),
    code: text({ missing: "is missing: write the function", most: 20_000 }),
    gets: list(object({ name: nameShape, value: operand }), 0, 20),
    gives: list(object({ name: nameShape, variable: id }), 0, 20),
    limitMs: number({ least: 10, most: 10_000 }),
    ...timing,
  }),
  /** A service of the study is asked: these values are sent to it, and what it answers goes into variables when it comes. */
  ask: object({
    do: only("ask"),
    service: id,
    sends: list(object({ name: nameShape, value: operand }), 0, 20),
    gives: list(object({ name: nameShape, variable: id }), 0, 20),
    limitMs: number({ least: 100, most: 60_000 }),
    /** What becomes of the variables where no answer comes in time: they stay as they are, or hold nothing. */
    otherwise: oneOf("keep", "empty"),
    ...timing,
  }),
} as const;
export const action = variant("do", shapes);
export type Action = Of<typeof action>;
export type ActionKind = Action["do"];
export type ActionOf<K extends ActionKind> = Extract<Action, { do: K }>;
export const actionKinds = Object.keys(shapes) as ActionKind[];
export const actions = list(action, 1, 20);
