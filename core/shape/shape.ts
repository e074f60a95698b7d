import * as yup from "yup";

declare const fitting: unique symbol;

/**
 * The shape of a value, stated once. The type of the values that fit follows from it (`Of`). `schema` checks a value
 * with Yup and says what is wrong; its messages follow a path in words ("must be 0 or more"). `fits` is the same check
 * without words, many times faster: for records, which come in by the hundred, and for large documents that are most
 * often right. What makes a shape does nothing else (`@__NO_SIDE_EFFECTS__`): participants' scripts leave out shapes that
 * are never asked.
 */
export type Shape<T> = {
  readonly [fitting]?: T;
  readonly schema: yup.Schema | yup.Lazy<unknown>;
  readonly fits: (value: unknown) => boolean;
};
/** A field that may be left out. */
export type Optional<T> = Shape<T | undefined> & { readonly optional: true };
/** The type of the values that have a shape. */
export type Of<S> = S extends Shape<infer T> ? T : never;

export type Mistake = { path: string; message: string };

/** Everything in a value that does not have the shape, each with its path; an empty list where it fits. */
export function mistakesIn(shape: Shape<unknown>, value: unknown): Mistake[] {
  if (shape.fits(value)) return [];
  try {
    shape.schema.validateSync(value, { abortEarly: false, strict: true });
    return [];
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const each = error.inner.length > 0 ? error.inner : [error];
    return each.map(({ path, message }) => ({ path: path ?? "", message }));
  }
}

/** Whether a value has a shape, told to the compiler. */
export const hasShape = <T>(shape: Shape<T>, value: unknown): value is T => shape.fits(value);

/** A shape made on first use, so that shapes can be recursive. */
export /* @__NO_SIDE_EFFECTS__ */ function lazily<T>(make: () => Shape<T>): Shape<T> {
  let made: Shape<T> | null = null;
  const shape = () => (made ??= make());
  return {
    schema: yup.lazy((value: unknown) => shape().schema.resolve({ value }) as yup.Schema),
    fits: (value) => shape().fits(value),
  };
}

/** A shape that depends on the value: `choose` looks at it, whatever it is, and says which shape it should have. */
/* @__NO_SIDE_EFFECTS__ */
export const choosing = <T>(choose: (value: unknown) => Shape<T>): Shape<T> => ({
  schema: yup.lazy((value: unknown) => choose(value).schema.resolve({ value }) as yup.Schema),
  fits: (value) => choose(value).fits(value),
});

/** A shape with one more condition. `problem` says what is wrong with a value that has the shape otherwise, and in which of its fields. */
export /* @__NO_SIDE_EFFECTS__ */ function refined<T>(
  shape: Shape<T>,
  problem: (value: T) => { field: string; message: string } | null,
): Shape<T> {
  return {
    schema: yup.lazy((value: unknown) => {
      const found = shape.fits(value) ? problem(value as T) : null;
      if (!found) return shape.schema.resolve({ value }) as yup.Schema;
      return yup
        .mixed()
        .test("refined", (_, context) =>
          context.createError({ path: [context.path, found.field].filter(Boolean).join("."), message: found.message }),
        );
    }),
    fits: (value) => shape.fits(value) && problem(value as T) === null,
  };
}

/* @__NO_SIDE_EFFECTS__ */
export const optional = <T>(shape: Shape<T>): Optional<T> => ({
  optional: true,
  schema: yup.lazy((value: unknown) =>
    value === undefined ? yup.mixed().optional() : (shape.schema.resolve({ value }) as yup.Schema),
  ),
  fits: (value) => value === undefined || shape.fits(value),
});

/* @__NO_SIDE_EFFECTS__ */
export const nullable = <T>(shape: Shape<T>): Shape<T | null> => ({
  schema: yup.lazy((value: unknown) =>
    value === null ? yup.mixed().nullable() : (shape.schema.resolve({ value }) as yup.Schema),
  ),
  fits: (value) => value === null || shape.fits(value),
});

/** A value judged by a function that says what is wrong with it, or null. */
/* @__NO_SIDE_EFFECTS__ */
export const judged = <T>(problem: (value: unknown) => string | null, missing = "is missing"): Shape<T> => ({
  schema: yup
    .mixed()
    .required(missing)
    .test("judged", (value, context) => {
      const message = problem(value);
      return message === null || context.createError({ message });
    }),
  fits: (value) => value !== undefined && value !== null && problem(value) === null,
});
