import { list, object, record } from "../shape/compound";
import { number, oneOf, only, text, title, whole } from "../shape/plain";
import { choosing, nullable, optional, type Of, type Shape } from "../shape/shape";
import { mediaTypes } from "../media/types";
import { mostInList } from "./most-in-list";
import { nameShape } from "./names";
import { id, scalar, type Scalar } from "./ref";

/** A between-participants condition. Without a share it gets one participant in each round, like the others. */
const groupFields = object({ id, name: title(60), share: optional(whole(1, 20)) });
export interface Group extends Of<typeof groupFields> {}
export const group: Shape<Group> = groupFields;

const valueType = oneOf("text", "number", "yes-no", "key");
export type ValueType = Of<typeof valueType>;

/** A named value that each group has its own of. */
const groupValueFields = object({ id, name: nameShape, type: valueType, perGroup: record(scalar) });
export interface GroupValue extends Of<typeof groupValueFields> {}
export const groupValue: Shape<GroupValue> = groupValueFields;

export const variableTypes = ["number", "text", "yes-no", "list"] as const;
const variableType = oneOf(...variableTypes);
export type VariableType = Of<typeof variableType>;

const variableFields = object({
  id,
  name: nameShape,
  type: variableType,
  /** What it holds as a session begins; null for nothing. */
  start: nullable(
    choosing<Scalar | Scalar[]>((value) => (Array.isArray(value) ? list(scalar, 0, mostInList) : scalar)),
  ),
  /** A parameter of the link's address it starts with, where the address has it. */
  from: optional(object({ urlParameter: text({ missing: "is missing", most: 40 }) })),
  /** A later sitting of the same participant starts with what it held at the end of the one before. */
  kept: optional(only(true)),
});
export interface Variable extends Of<typeof variableFields> {}
export const variable: Shape<Variable> = variableFields;

const mediaFileFields = object({
  id,
  name: title(200),
  sha256: text({ missing: "is missing", pattern: /^[0-9a-f]{64}$/, otherwise: "must be a SHA-256 in hexadecimal" }),
  mime: oneOf(...mediaTypes),
  bytes: whole(1),
  /** Pixel size of a picture or video; an SVG's comes from its view box. */
  width: optional(number({ above: 0 })),
  height: optional(number({ above: 0 })),
  /** Length of a sound or video, in milliseconds. */
  ms: optional(number({ least: 0 })),
});
export interface MediaFile extends Of<typeof mediaFileFields> {}
export const mediaFile: Shape<MediaFile> = mediaFileFields;

/** What of a study its bindings can see. */
export type StudyValues = { groups: Group[]; groupValues: GroupValue[]; variables: Variable[]; media: MediaFile[] };
