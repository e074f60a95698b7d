import * as yup from "yup";
import type { Shape } from "./shape";

type TextOptions = {
  /** Most characters. */
  most?: number;
  /** A text that must not be empty says what to do about it: "is missing: type a name". */
  missing?: string;
  pattern?: RegExp;
  /** What to say where the pattern does not match. */
  otherwise?: string;
};

/** A text; an empty one only where nothing is said for `missing`. */
export /* @__NO_SIDE_EFFECTS__ */ function text({
  most = Infinity,
  missing,
  pattern,
  otherwise = "has the wrong form",
}: TextOptions = {}): Shape<string> {
  let schema = yup.string().typeError("must be a text");
  schema = missing === undefined ? schema.defined("is missing") : schema.required(missing);
  if (most < Infinity) schema = schema.max(most, `must have at most ${most} characters`);
  if (pattern) schema = schema.matches(pattern, otherwise);
  return {
    schema,
    fits: (value) =>
      typeof value === "string" &&
      value.length <= most &&
      (missing === undefined || value !== "") &&
      (pattern === undefined || pattern.test(value)),
  };
}

/** A title of a part, scene, item and the like: not empty, at most so long. */
/* @__NO_SIDE_EFFECTS__ */
export const title = (most = 120): Shape<string> => text({ most, missing: "is missing: type a name" });

/** A name of which something can be read. */
/* @__NO_SIDE_EFFECTS__ */
export const readableName = (most = 80): Shape<string> =>
  text({ most, missing: "is missing: type a name", pattern: /\S/, otherwise: "is empty: type a name" });

type NumberOptions = {
  least?: number;
  most?: number;
  /** The number has to be greater than this. */
  above?: number;
  /** What to say where it is too large, if that can be said better than by the number itself. */
  tooLarge?: string;
  whole?: boolean;
};

/** A finite number within bounds. */
export /* @__NO_SIDE_EFFECTS__ */ function number({
  least = -Infinity,
  most = Infinity,
  above = -Infinity,
  tooLarge = `must be at most ${most}`,
  whole = false,
}: NumberOptions = {}): Shape<number> {
  let schema = yup
    .number()
    .required("is missing: write a number")
    .typeError("must be a number")
    .test("finite", "must be a number", (value) => Number.isFinite(value));
  if (whole) schema = schema.integer("must be a whole number");
  if (least > -Infinity) schema = schema.min(least, `must be ${signed(least)} or more`);
  if (above > -Infinity) schema = schema.moreThan(above, `must be greater than ${above}`);
  if (most < Infinity) schema = schema.max(most, tooLarge);
  return {
    schema,
    fits: (value) =>
      typeof value === "number" &&
      (whole ? Number.isInteger(value) : Number.isFinite(value)) &&
      value >= least &&
      value <= most &&
      value > above,
  };
}
const signed = (value: number): string => (value < 0 ? `−${-value}` : String(value));

/** A whole number from `least` on. */
/* @__NO_SIDE_EFFECTS__ */
export const whole = (least: number, most = Infinity): Shape<number> => number({ least, most, whole: true });

export const yesNo: Shape<boolean> = {
  schema: yup.boolean().required("is missing: write true or false").typeError("must be true or false"),
  fits: (value) => typeof value === "boolean",
};

/** One of some words. */
export /* @__NO_SIDE_EFFECTS__ */ function oneOf<const W extends string>(...words: readonly W[]): Shape<W> {
  const known = new Set<unknown>(words);
  return {
    schema: yup
      .string()
      .typeError("must be a text")
      .required("is missing")
      .oneOf(words, `must be one of ${words.join(", ")}`),
    fits: (value) => known.has(value),
  };
}

/** One value and no other. */
export /* @__NO_SIDE_EFFECTS__ */ function only<const V extends string | number | boolean>(value: V): Shape<V> {
  return {
    schema: yup
      .mixed()
      .required("is missing")
      .test("only", `must be ${value}`, (each) => each === value),
    fits: (each) => each === value,
  };
}
