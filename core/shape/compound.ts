import * as yup from "yup";
import type { Of, Optional, Shape } from "./shape";

type Fields = Record<string, Shape<unknown>>;
type Whole<T> = { -readonly [K in keyof T]: T[K] };
/** The type of objects with these fields; their comments go along. */
export type OfFields<F extends Fields> = Whole<
  { [K in keyof F as F[K] extends Optional<unknown> ? never : K]: Of<F[K]> } & {
    [K in keyof F as F[K] extends Optional<unknown> ? K : never]?: Of<F[K]> | undefined;
  }
>;

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const asSchema = (shape: Shape<unknown>) => shape.schema as yup.Schema;

/** Yup walks only into what does not fit: of a large table with one wrong cell, into the path to that cell. */
const guarded = (fits: Shape<unknown>["fits"], schema: yup.Schema): Shape<unknown>["schema"] =>
  yup.lazy((value: unknown) => (fits(value) ? yup.mixed() : schema));

/** An object with these fields and no others. */
export /* @__NO_SIDE_EFFECTS__ */ function object<F extends Fields>(fields: F): Shape<OfFields<F>> {
  const checks = new Map(Object.entries(fields).map(([name, { fits }]) => [name, fits]));
  const needed = Object.entries(fields).flatMap(([name, shape]) => ("optional" in shape ? [] : [name]));
  const fits = (value: unknown): boolean => {
    if (!isObject(value)) return false;
    for (const name of needed) if (!Object.hasOwn(value, name)) return false;
    for (const name of Object.keys(value)) if (checks.get(name)?.(value[name]) !== true) return false;
    return true;
  };
  const schema = yup
    .object(Object.fromEntries(Object.entries(fields).map(([name, shape]) => [name, asSchema(shape)])))
    .required("is missing")
    .noUnknown(({ unknown }: { unknown: string }) => `has a field Lapwing does not know: ${unknown}. Remove it`)
    .typeError("must be an object with fields");
  return { fits, schema: guarded(fits, schema) };
}

/** A list of values of one shape. */
export /* @__NO_SIDE_EFFECTS__ */ function list<T>(entry: Shape<T>, least = 0, most = 100_000): Shape<T[]> {
  const fits = (value: unknown): boolean =>
    Array.isArray(value) && value.length >= least && value.length <= most && value.every(entry.fits);
  const schema = yup
    .array(asSchema(entry))
    .required("is missing: write a list")
    .typeError("must be a list")
    .min(least, `must have at least ${least} ${least === 1 ? "entry" : "entries"}`)
    .max(most, `must have at most ${most} entries`);
  return { fits, schema: guarded(fits, schema) };
}

/** An object whose keys are ids, or other names of at most `longestKey` characters, and whose values all have one shape. */
export /* @__NO_SIDE_EFFECTS__ */ function record<T>(entry: Shape<T>, longestKey = Infinity): Shape<Record<string, T>> {
  const fits = (value: unknown): boolean => {
    if (!isObject(value)) return false;
    for (const key of Object.keys(value)) if (key.length > longestKey || !entry.fits(value[key])) return false;
    return true;
  };
  return {
    fits,
    schema: yup.lazy((value: unknown) => {
      if (fits(value)) return yup.mixed();
      if (value === undefined) return yup.mixed().required("is missing");
      if (!isObject(value)) return yup.mixed().test("record", "must be an object keyed by id", () => false);
      const wrong = Object.keys(value).filter((key) => key.length > longestKey || !entry.fits(value[key]));
      return yup.object(
        Object.fromEntries(
          wrong.map((key) => [
            key,
            key.length > longestKey
              ? yup.mixed().test("key", "has a name that is too long", () => false)
              : asSchema(entry),
          ]),
        ),
      );
    }),
  };
}

/** The shapes of a registry of kinds, by their words. */
/* @__NO_SIDE_EFFECTS__ */
export const shapesOf = <K extends Record<string, { shape: Shape<unknown> }>>(
  kinds: K,
): { [N in keyof K]: K[N]["shape"] } =>
  Object.fromEntries(Object.entries(kinds).map(([word, { shape }]) => [word, shape])) as {
    [N in keyof K]: K[N]["shape"];
  };

/** An object of one of several kinds, told apart by the word in one of its fields. */
export /* @__NO_SIDE_EFFECTS__ */ function variant<F extends string, K extends { [N in keyof K]: Shape<Record<F, N>> }>(
  field: F,
  kinds: K,
): Shape<Of<K[keyof K]>> {
  const unknown: Shape<never> = {
    fits: () => false,
    schema: yup
      .mixed()
      .test("kind", `must have a ${field} that is one of ${Object.keys(kinds).join(", ")}`, () => false),
  };
  const known = new Map<unknown, Shape<unknown>>(Object.entries(kinds));
  const shapeOf = (value: unknown): Shape<unknown> => (isObject(value) && known.get(value[field])) || unknown;
  return {
    fits: (value) => shapeOf(value).fits(value),
    schema: yup.lazy((value: unknown) => shapeOf(value).schema.resolve({ value }) as yup.Schema),
  };
}
