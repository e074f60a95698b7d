import { object, type OfFields } from "../shape/compound";
import { only, title, yesNo } from "../shape/plain";
import { optional, type Of } from "../shape/shape";
import { anyNumber, duration, positive } from "../values/amounts";
import { condition } from "../values/condition";
import { id, type Id, type NewId } from "../values/ref";

/*
 * What items of all kinds have. Positions and sizes are in stage units: origin at the centre, y upwards, 100 units are the
 * shorter side.
 */
export const base = <const K extends string>(kind: K) => ({
  kind: only(kind),
  id,
  name: title(),
  when: optional(condition),
  /** Milliseconds after its scene's onset at which it comes on and goes; with the scene where they are absent. */
  begins: optional(duration),
  ends: optional(duration),
});

const size = object({ w: positive, h: positive });
export type Size = Of<typeof size>;

/** What has a position on the stage. */
export const positioned = <const K extends string>(kind: K) => ({
  ...base(kind),
  at: object({ x: anyNumber, y: anyNumber }),
  /** Degrees, clockwise. */
  turned: anyNumber,
  /** Not moved by the mouse or the arrow keys while composing. */
  locked: yesNo,
});
export const sized = <const K extends string>(kind: K) => ({ ...positioned(kind), size });

/** An item of any kind, as far as all are alike. */
export type AnyItem = OfFields<Omit<ReturnType<typeof base>, "kind">> & { kind: string };

/** A new item's kind, id and name; with a position, at the centre of the stage. */
export const freshBase = <const K extends string>(
  kind: K,
  newId: NewId,
  name: string,
): { kind: K; id: Id; name: string } => ({
  kind,
  id: newId("item"),
  name,
});
export const freshPositioned = <const K extends string>(kind: K, newId: NewId, name: string) => ({
  ...freshBase(kind, newId, name),
  at: { x: 0, y: 0 },
  turned: 0,
  locked: false,
});
export const freshSized = <const K extends string>(kind: K, newId: NewId, name: string, w: number, h: number) => ({
  ...freshPositioned(kind, newId, name),
  size: { w, h },
});
