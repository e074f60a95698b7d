import { object, variant } from "../shape/compound";
import { number, oneOf, only, text } from "../shape/plain";
import { optional, type Of } from "../shape/shape";
import { id, type Id } from "../values/ref";

/** So long after it happened the rule is looked at; at once where it is left out. */
const after = { afterMs: optional(number({ least: 0, most: 3_600_000, tooLarge: "must be at most an hour" })) };

const answerHow = oneOf("given", "right", "wrong", "none", "early");
export type AnswerHow = Of<typeof answerHow>;
const keyAct = oneOf("press", "release", "hold");
const pointerAct = oneOf("press", "enter", "leave");
const mediaWhat = oneOf("begins", "ends");
const windowWhat = oneOf("focus-lost", "focus-back", "full-screen-left");

/*
 * What sets a rule off. Where a field that names a thing is left out, any such thing does.
 */
const shapes = {
  "session-begins": object({ on: only("session-begins"), ...after }),
  "session-ends": object({ on: only("session-ends") }),
  "part-begins": object({ on: only("part-begins"), ...after }),
  "part-ends": object({ on: only("part-ends") }),
  "trial-begins": object({ on: only("trial-begins"), ...after }),
  "trial-ends": object({ on: only("trial-ends") }),
  "scene-begins": object({ on: only("scene-begins"), scene: optional(id), ...after }),
  "scene-ends": object({ on: only("scene-ends"), scene: optional(id), ...after }),
  answer: object({ on: only("answer"), how: answerHow, answer: optional(id), ...after }),
  /** By its position on the keyboard, as `KeyB`. */
  key: object({
    on: only("key"),
    key: text({ missing: "is missing: press a key", most: 60 }),
    act: keyAct,
    /** For how long it is held, where it is to be held. */
    heldMs: optional(number({ least: 0, most: 60_000 })),
    ...after,
  }),
  pointer: object({ on: only("pointer"), act: pointerAct, item: optional(id), ...after }),
  scroll: object({ on: only("scroll"), ...after }),
  media: object({ on: only("media"), what: mediaWhat, item: optional(id), ...after }),
  message: object({ on: only("message"), item: optional(id), says: optional(text({ most: 1000 })), ...after }),
  question: object({ on: only("question"), question: optional(id) }),
  variable: object({ on: only("variable"), variable: id, ...after }),
  window: object({ on: only("window"), what: windowWhat, ...after }),
  leave: object({ on: only("leave") }),
} as const;
export const trigger = variant("on", shapes);
export type Trigger = Of<typeof trigger>;
export type TriggerKind = Trigger["on"];
export const triggerKinds = Object.keys(shapes) as TriggerKind[];

/** Something that happened, to which rules may react. */
export type Happening =
  | {
      on: "session-begins" | "session-ends" | "part-begins" | "part-ends" | "trial-begins" | "trial-ends" | "leave";
    }
  | { on: "scene-begins" | "scene-ends"; scene: Id }
  | { on: "answer"; answer: Id; how: AnswerHow }
  | { on: "key"; key: string; act: Of<typeof keyAct>; heldMs?: number | undefined }
  | { on: "pointer"; act: Of<typeof pointerAct>; item: Id }
  | { on: "scroll" }
  | { on: "media"; what: Of<typeof mediaWhat>; item: Id }
  | { on: "message"; item: Id; says: string }
  | { on: "question"; question: Id }
  | { on: "variable"; variable: Id }
  | { on: "window"; what: Of<typeof windowWhat> };
