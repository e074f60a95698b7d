import { object } from "../shape/compound";
import { text } from "../shape/plain";
import { choosing, judged, type Of, type Shape } from "../shape/shape";
import { isBuiltInName } from "./built-ins";

export type Id = string;
export type Scalar = string | number | boolean;

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
export type Ref = { column: Id } | { groupValue: Id } | { variable: Id } | { builtIn: string };

function refProblem(value: unknown): string | null {
  if (typeof value !== "object" || value === null)
    return "must say where its value comes from: a column, group value, variable or built-in name";
  const [[key, name] = [], ...more] = Object.entries(value);
  if (
    more.length > 0 ||
    !key ||
    !["column", "groupValue", "variable", "builtIn"].includes(key) ||
    typeof name !== "string"
  )
    return "must name one of column, groupValue, variable, builtIn";
  return key === "builtIn" && !isBuiltInName(name) ? `uses the built-in name “${name}”, which does not exist` : null;
}
export const ref: Shape<Ref> = judged(refProblem);

export const binding = object({ from: ref });
export type Binding = Of<typeof binding>;
/** A property that is either a constant or taken from a column, group value, variable or built-in name. */
export type Bindable<T extends Scalar> = T | Binding;

export const bindable = <T extends Scalar>(constant: Shape<T>): Shape<Bindable<T>> =>
  choosing<Bindable<T>>((value) => (typeof value === "object" && value !== null ? binding : constant));

export const isBinding = (value: unknown): value is Binding =>
  typeof value === "object" && value !== null && "from" in value;

/** Gives a fresh id with the prefix, for example `scene-7fk2`. Passed in, so that the core stays free of chance. */
export type NewId = (prefix: string) => Id;
