/** A field in which two records differ: where it is, and what stands there; null where one has no such field. */
export type FieldDifference = { field: string; first: string | null; second: string | null };

type Fields = Map<string, string>;

/** Every field of a value by its path (`answers 1 given rt`, lists counted from 1), written as text. */
function fieldsOf(value: unknown, path: string, fields: Fields): Fields {
  const inside =
    typeof value === "object" && value !== null
      ? Object.entries(value).map(
          ([name, each]) => [Array.isArray(value) ? String(Number(name) + 1) : name, each] as const,
        )
      : [];
  if (inside.length === 0) return fields.set(path, typeof value === "string" ? value : JSON.stringify(value));
  for (const [name, each] of inside) fieldsOf(each, path === "" ? name : `${path} ${name}`, fields);
  return fields;
}

/** The fields in which two records differ, in the first one's order, then those only the second has. */
export function recordDifferences(first: unknown, second: unknown): FieldDifference[] {
  const [one, other] = [fieldsOf(first, "", new Map()), fieldsOf(second, "", new Map())];
  return [...new Set([...one.keys(), ...other.keys()])]
    .filter((field) => one.get(field) !== other.get(field))
    .map((field) => ({ field, first: one.get(field) ?? null, second: other.get(field) ?? null }));
}
