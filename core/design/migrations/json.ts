/** Parsed JSON that is not yet checked. */
export type Json = Record<string, unknown>;
export const isJson = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);
/** Changes the objects of a list, leaving anything else in it for the check that follows. */
export const each = (value: unknown, change: (entry: Json) => Json): unknown =>
  Array.isArray(value) ? value.map((entry: unknown) => (isJson(entry) ? change(entry) : entry)) : value;
