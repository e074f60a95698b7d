import { each, isJson, type Json } from "./json";
import type { Migration } from "./migration";

/** A scene could have a text as its marker; now markers of a block say what they mark. */
const part = (old: unknown): unknown => {
  if (!isJson(old) || old.kind !== "block") return old;
  const markers: Json[] = [];
  const scenes = each(old.scenes, ({ marker, ...scene }) => {
    if (typeof marker === "string" && marker.trim() !== "") {
      const number = markers.length + 1;
      const name = typeof scene.name === "string" ? scene.name : `marker ${number}`;
      markers.push({ id: `marker-${number}`, name, at: { on: "scene-begins", scene: scene.id }, value: marker.trim() });
    }
    return scene;
  });
  return { ...old, scenes, ...(markers.length > 0 ? { markers } : {}) };
};

export const to8: Migration = {
  from: 7,
  describe: "Markers stand in the list of their block, with what they mark and their values.",
  up: (document) => ({
    ...document,
    parts: isJson(document.parts)
      ? Object.fromEntries(Object.entries(document.parts).map(([id, value]) => [id, part(value)]))
      : document.parts,
  }),
};
