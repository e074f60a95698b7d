import { itemShape } from "../items/registry";
import { rules } from "../rules/rule";
import { list, object, variant } from "../shape/compound";
import { number, only, title } from "../shape/plain";
import { optional, refined, type Of, type Shape } from "../shape/shape";
import { duration } from "../values/amounts";
import { condition } from "../values/condition";
import { id, type NewId } from "../values/ref";
import { notes } from "./notes";

const drawn = object({
  kind: only("random-ms"),
  from: number({ least: 0 }),
  to: number({ least: 0 }),
  step: number({ above: 0 }),
});
const lasts = variant("kind", {
  ms: object({ kind: only("ms"), ms: duration }),
  "random-ms": refined(drawn, ({ from, to }) =>
    to >= from ? null : { field: "to", message: "must not be smaller than where it starts from" },
  ),
  "until-answer": object({ kind: only("until-answer"), atMostMs: optional(duration) }),
  /** Until the longest of its sounds and videos has ended. */
  "media-end": object({ kind: only("media-end") }),
});
/** How long a scene stays. All durations are in milliseconds. */
export type Lasts = Of<typeof lasts>;

const sceneFields = object({
  id,
  name: title(60),
  lasts,
  items: list(itemShape, 0, 500),
  when: optional(condition),
  /** Looked at in this scene only. */
  rules: optional(rules),
  notes: optional(notes),
});
/** One state of the stage within a trial. */
export interface Scene extends Of<typeof sceneFields> {}
export const scene: Shape<Scene> = sceneFields;

export const newScene = (newId: NewId, name: string): Scene => ({
  id: newId("scene"),
  name,
  lasts: { kind: "ms", ms: 500 },
  items: [],
});
