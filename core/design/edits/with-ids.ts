import type { Id } from "../../values/ref";

/** A copy of a value in which ids are others, wherever they stand. */
export function withIds<T>(value: T, ids: ReadonlyMap<Id, Id>): T {
  const renamed = (inner: unknown): unknown => {
    if (typeof inner === "string") return ids.get(inner) ?? inner;
    if (Array.isArray(inner)) return inner.map(renamed);
    if (typeof inner !== "object" || inner === null) return inner;
    return Object.fromEntries(Object.entries(inner).map(([key, each]) => [key, renamed(each)]));
  };
  return renamed(value) as T;
}
