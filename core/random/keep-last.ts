/**
 * Keeps the last things that were made, by their key, and makes others anew. For pure work only: a thing that is kept is
 * the one that would be made.
 */
export function keepLast<T>(most: number): (key: string, make: () => T) => T {
  const kept = new Map<string, T>();
  return (key, make) => {
    if (kept.has(key)) return kept.get(key) as T;
    const fresh = make();
    kept.set(key, fresh);
    if (kept.size > most) kept.delete(kept.keys().next().value as string);
    return fresh;
  };
}
