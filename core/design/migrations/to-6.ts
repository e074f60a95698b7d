import { isJson } from "./json";
import type { Migration } from "./migration";

/** Rules and criteria had a place and no meaning: nothing could be played by them, so that none is lost. */
const part = (old: unknown): unknown => {
  if (!isJson(old)) return old;
  if (old.kind === "page") return { ...old, rules: [] };
  const block: Record<string, unknown> = { ...old, rules: [] };
  delete block.criterion;
  return block;
};

/** A variable of the kind of a key held a text. */
const variable = (old: unknown): unknown => (isJson(old) && old.type === "key" ? { ...old, type: "text" } : old);

export const to6: Migration = {
  from: 5,
  describe:
    "Rules with the study, its pages, blocks and scenes; variables that can be lists; blocks and brackets that are repeated until good enough; values that follow the answers or are drawn from pools.",
  up: (document) => ({
    ...document,
    rules: [],
    pools: [],
    services: [],
    variables: Array.isArray(document.variables) ? document.variables.map(variable) : [],
    parts: isJson(document.parts)
      ? Object.fromEntries(Object.entries(document.parts).map(([id, value]) => [id, part(value)]))
      : document.parts,
  }),
};
