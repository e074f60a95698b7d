/** Whether two JSON values are equal in content; objects regardless of the order of their fields. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [keys, others] = [definedKeys(a), definedKeys(b)];
  return (
    keys.length === others.length &&
    keys.every((key) => same((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]))
  );
}

const definedKeys = (value: object): string[] =>
  Object.keys(value).filter((key) => (value as Record<string, unknown>)[key] !== undefined);
