import type { Migration } from "./migration";
import { each, isJson, type Json } from "./json";

const limit = ({ column, ...old }: Json): Json => {
  if (old.kind === "first-trials") return { ...old, kind: "edge-trials", at: "first", column };
  const columns = { ...old, columns: [column] };
  return old.kind === "balanced-transitions" ? { ...columns, itself: "as-often" } : columns;
};
const part = (old: unknown): unknown =>
  isJson(old) && isJson(old.order) ? { ...old, order: { ...old.order, limits: each(old.order.limits, limit) } } : old;

export const to3: Migration = {
  from: 2,
  describe:
    "Limits look at combinations of columns; groups have shares; allocation says its method, its strata and which " +
    "sessions count; a bracket, a taken number of rows, sub-blocks and given sequences are played.",
  up: (document) => ({
    ...document,
    parts: isJson(document.parts)
      ? Object.fromEntries(Object.entries(document.parts).map(([id, value]) => [id, part(value)]))
      : document.parts,
    // What every study did until now: permuted blocks as long as there are groups, an hour without a sign of life.
    allocation: {
      method: "permuted-blocks",
      blockSizes: [1],
      strata: [],
      counts: { sessions: "finished-and-active", activeMinutes: 60, excluded: "gives-back" },
    },
  }),
};
