import type { Patch } from "immer";
import { same } from "../same";

type Json = Record<string, unknown>;
const isObject = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Patches that lead from one JSON value to another. Lists of another length are replaced whole. */
export function patchesBetween(before: unknown, after: unknown, path: (string | number)[] = []): Patch[] {
  if (same(before, after)) return [];
  if (isObject(before) && isObject(after)) {
    const gone = Object.keys(before).filter((key) => after[key] === undefined);
    return [
      ...gone.map((key): Patch => ({ op: "remove", path: [...path, key] })),
      ...Object.entries(after).flatMap(([key, value]): Patch[] => {
        if (value === undefined) return [];
        return before[key] === undefined
          ? [{ op: "add", path: [...path, key], value }]
          : patchesBetween(before[key], value, [...path, key]);
      }),
    ];
  }
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return after.flatMap((value, index) => patchesBetween(before[index], value, [...path, index]));
  return [{ op: "replace", path, value: after }];
}
