import { isRef, type Ref } from "./ref";

export type Use = { path: string; ref: Ref };

/** Every reference to a named value inside a document or a piece of one, with the path to it. */
export function usesIn(value: unknown, path = ""): Use[] {
  if (typeof value !== "object" || value === null) return [];
  return Object.entries(value).flatMap(([key, inner]) => {
    const at = Array.isArray(value) ? `${path}[${key}]` : path ? `${path}.${key}` : key;
    return (key === "from" || key === "ref") && isRef(inner) ? [{ path: at, ref: inner }] : usesIn(inner, at);
  });
}

/** A reference as one text, equal for equal references. */
export const refKey = (ref: Ref): string => Object.entries(ref).flat().join(":");
