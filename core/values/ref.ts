import { object } from "../shape/compound";
import { text } from "../shape/plain";
import { choosing, judged, type Of, type Shape } from "../shape/shape";
import { isBuiltInName } from "./built-ins";

export type Id = string;
export type Scalar = string | number | boolean;
/** What a variable can hold: one value, or a list of them. */
export type Value = Scalar | Scalar[];

export const id: Shape<Id> = text({
  missing: "is missing",
  pattern: /^[A-Za-z0-9][A-Za-z0-9-]{0,39}$/,
  otherwise: "must be an id of letters, digits and hyphens",
});

/** What is wrong with a constant value, or null. */
export function scalarProblem(value: unknown): string | null {
  if (typeof value === "string") return value.length <= 10_000 ? null : "must have at most 10000 characters";
  if (typeof value === "number") return Number.isFinite(value) ? null : "must be a number";
  return typeof value === "boolean" ? null : "must be a text, a number, or true or false";
}
export const scalar: Shape<Scalar> = judged(scalarProblem);

/** Where a value comes from when it is not a constant. */
export type Ref =
  | { column: Id }
  | { groupValue: Id }
  | { variable: Id }
  | { builtIn: string }
  /** The answer to a question of a page, or to one of its statements or options. */
  | { question: Id; part?: Id }
  | { score: Id };

const refKeys = ["column", "groupValue", "variable", "builtIn", "question", "score"];

/** Whether a value names something as a reference does, whatever it is called. */
export function isRef(value: unknown): value is Ref {
  if (typeof value !== "object" || value === null) return false;
  const [[key, name] = [], ...more] = Object.entries(value);
  if (!key || !refKeys.includes(key) || typeof name !== "string") return false;
  return more.every(([other, part]) => key === "question" && other === "part" && typeof part === "string");
}

function refProblem(value: unknown): string | null {
  if (typeof value !== "object" || value === null)
    return "must say where its value comes from: a column, group value, variable, question, score or built-in name";
  if (!isRef(value)) return `must name one of ${refKeys.join(", ")}`;
  return "builtIn" in value && !isBuiltInName(value.builtIn)
    ? `uses the built-in name “${value.builtIn}”, which does not exist`
    : null;
}
export const ref: Shape<Ref> = judged(refProblem);

export const binding = object({ from: ref });
export type Binding = Of<typeof binding>;
/** A property that is either a constant or taken from a column, group value, variable or built-in name. */
export type Bindable<T extends Scalar> = T | Binding;

/* @__NO_SIDE_EFFECTS__ */
export const bindable = <T extends Scalar>(constant: Shape<T>): Shape<Bindable<T>> =>
  choosing<Bindable<T>>((value) => (typeof value === "object" && value !== null ? binding : constant));

export const isBinding = (value: unknown): value is Binding =>
  typeof value === "object" && value !== null && "from" in value;

/** Gives a fresh id with the prefix, for example `scene-7fk2`. Passed in, so that the core stays free of chance. */
export type NewId = (prefix: string) => Id;
