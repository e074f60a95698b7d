import { longValue, recordedId, sessionTime } from "../items/observation";
import { list, object, record, variant } from "../shape/compound";
import { number, oneOf, only, text, whole, yesNo } from "../shape/plain";
import { choosing, nullable, optional, type Of, type Shape } from "../shape/shape";
import type { Value } from "../values/ref";
import { mostInList } from "../values/most-in-list";
import { mostActs, mostFired } from "./rule-bounds";

const most = 1e7;
const plain: Shape<string | number | boolean> = choosing<string | number | boolean>((value) =>
  typeof value === "number" ? number() : typeof value === "boolean" ? yesNo : longValue,
);
const value: Shape<Value> = choosing<Value>((each) => (Array.isArray(each) ? list(plain, 0, mostInList) : plain));

/** One action that a rule has carried out, by its index in the rule; `gave` is the value it worked out. */
const firing = object({
  rule: recordedId,
  action: whole(0, 100),
  at: sessionTime,
  gave: optional(nullable(value)),
});
export type Firing = Of<typeof firing>;

/** Something that rules reacted to and that stands nowhere else in the record. */
const happened = variant("on", {
  /** The time of something that was to come later. */
  time: object({ on: only("time") }),
  key: object({
    on: only("key"),
    key: text({ most: 60 }),
    act: oneOf("press", "release", "hold"),
    heldMs: optional(number({ least: 0 })),
  }),
  pointer: object({ on: only("pointer"), act: oneOf("press", "enter", "leave"), item: recordedId }),
  scroll: object({ on: only("scroll") }),
  media: object({ on: only("media"), what: oneOf("begins", "ends"), item: recordedId }),
  message: object({ on: only("message"), item: recordedId, says: text({ most: 1000 }) }),
  /** What a script or service gave, by its names; or why it gave nothing. */
  outside: object({
    on: only("outside"),
    number: whole(1, most),
    /** The service that was asked; none for a script. */
    service: optional(recordedId),
    gave: record(nullable(plain), 60),
    problem: optional(text({ most: 300 })),
  }),
  /** In a rehearsal: a variable was set by hand. */
  "by-hand": object({ on: only("by-hand"), variable: recordedId, value: nullable(value) }),
  window: object({ on: only("window"), what: oneOf("focus-lost", "focus-back", "full-screen-left") }),
});
const act = object({
  at: sessionTime,
  /** How many of the trial's scenes had come on. */
  scenesShown: whole(0, most),
  /** Its number among what was taken in the trial, answers included, from 1. */
  order: whole(0, most),
  happened,
});
export type Act = Of<typeof act>;

/** What stands in records of sessions that have rules or variables. */
export const ofRules = {
  fired: optional(list(firing, 1, mostFired)),
  /** What variables hold after it, where that is not what the study says; points under a name of their own. */
  variables: optional(record(nullable(value), 60)),
};
export const acts = optional(list(act, 1, mostActs));
