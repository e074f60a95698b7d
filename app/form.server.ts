import * as yup from "yup";
import { isDeeperThan } from "~/core/shape/depth";

export type Form<T> = { ok: true; values: T } | { ok: false; problems: Record<string, string> };

/** A posted form by its schema: its values, or for each field what is wrong with it. */
export async function readForm<T extends yup.AnyObject>(
  request: Request,
  schema: yup.ObjectSchema<T>,
): Promise<Form<T>> {
  // What is no form has no fields, and is told what they should be.
  const sent = await request.formData().catch(() => new FormData());
  const fields = Object.fromEntries([...sent].filter(([, value]) => typeof value === "string"));
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

/** No request needs values nested deeper. */
const mostDepth = 100;

/** A request's JSON by its schema; null for anything that is no JSON, is nested too deep or does not follow it. */
export async function readJson<T>(request: Request, schema: yup.Schema<T>): Promise<T | null> {
  try {
    const sent: unknown = await request.json();
    return isDeeperThan(sent, mostDepth) ? null : await schema.validate(sent, { strict: true });
  } catch {
    return null;
  }
}
