import * as yup from "yup";

export type Form<T> = { ok: true; values: T } | { ok: false; problems: Record<string, string> };

/** A posted form by its schema: its values, or for each field what is wrong with it. */
export async function readForm<T extends yup.AnyObject>(
  request: Request,
  schema: yup.ObjectSchema<T>,
): Promise<Form<T>> {
  const fields = Object.fromEntries([...(await request.formData())].filter(([, value]) => typeof value === "string"));
  try {
    return { ok: true, values: (await schema.validate(fields, { abortEarly: false, stripUnknown: true })) as T };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    return {
      ok: false,
      problems: Object.fromEntries(error.inner.map(({ path, message }) => [path ?? "", message]).reverse()),
    };
  }
}

/** A request's JSON by its schema; null for anything that is no JSON or does not follow it. */
export async function readJson<T>(request: Request, schema: yup.Schema<T>): Promise<T | null> {
  try {
    return await schema.validate(await request.json(), { strict: true });
  } catch {
    return null;
  }
}
