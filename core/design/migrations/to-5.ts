import { isJson } from "./json";
import type { Migration } from "./migration";

/** A page was one text; now texts and questions stand in its flow. */
const part = (old: unknown): unknown => {
  if (!isJson(old) || old.kind !== "page") return old;
  const { body, continueLabel, notes, ...page } = old;
  return {
    ...page,
    flow: [{ kind: "text", id: "text-1", text: body }],
    continueLabel,
    shows: "all",
    back: false,
    endings: [],
    notes,
  };
};

export const to5: Migration = {
  from: 4,
  describe:
    "A page is a flow of texts, media and questions, and can end a session; scores are made from answers. What a page said until now is its one text.",
  up: (document) => ({
    ...document,
    parts: isJson(document.parts)
      ? Object.fromEntries(Object.entries(document.parts).map(([id, value]) => [id, part(value)]))
      : document.parts,
    scores: [],
  }),
};
