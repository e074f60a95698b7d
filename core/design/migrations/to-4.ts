import { isJson, type Json } from "./json";
import type { Migration } from "./migration";

/** A pause named a page elsewhere in the study; what is read in a break stands in the break itself. */
const part = (old: unknown, parts: Json): unknown => {
  if (!isJson(old) || !isJson(old.pause)) return old;
  const { pause, ...block } = old;
  const page = isJson(pause) && typeof pause.page === "string" ? parts[pause.page] : null;
  const body = isJson(page) && Array.isArray(page.body) ? page.body : [{ as: "paragraph", runs: [] }];
  return { ...block, breaks: { everyTrials: (pause as Json).everyTrials, body, leastSeconds: 0 } };
};

export const to4: Migration = {
  from: 3,
  describe:
    "What participants meet around the parts (entry, checks, interruptions, withdrawing, wording) stands in the settings; " +
    "a block has breaks with their own text, and can be timed from the trial's onset.",
  up: (document) => ({
    ...document,
    parts: isJson(document.parts)
      ? Object.fromEntries(
          Object.entries(document.parts).map(([id, value]) => [id, part(value, document.parts as Json)]),
        )
      : document.parts,
    settings: isJson(document.settings)
      ? {
          ...document.settings,
          // What every study did until now: nothing is asked or checked at the entry, a trial is played to its end.
          participation: {
            welcome: "",
            contact: "",
            ownCode: "none",
            checks: { keyboard: false, sound: false },
            elsewhere: false,
            interrupted: "finish",
            withdrawn: "keep",
            wording: {},
          },
        }
      : document.settings,
  }),
};
