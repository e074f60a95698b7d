import { each, isJson, type Json } from "./json";
import type { Migration } from "./migration";

const placed = { turned: 0, locked: false };
const fresh: Record<string, Json> = {
  text: { ...placed, font: "Atkinson Hyperlegible Next", lineSpacing: 1.3, direction: "auto" },
  image: { ...placed, fit: "inside", upsideDown: false },
  shape: { ...placed, corners: 5, gap: 29, opacity: 100 },
};
const item = (old: Json): Json => ({ ...fresh[String(old.kind)], ...old });
const device = (old: Json): Json => ({ by: "letter", act: "press", holdMs: 0, ...old });
const answer = (old: Json): Json => ({ counts: "first", onEarly: "go-on", ...old, by: each(old.by, device) });
const column = (old: Json): Json => {
  const { cases } = old;
  if (!isJson(cases) || Array.isArray(cases.by)) return old;
  const when = each(cases.when, ({ value, ...rest }) => ({ is: [value], ...rest }));
  return { ...old, cases: { ...cases, by: [cases.by], when } };
};
const part = (old: unknown): unknown =>
  !isJson(old) || old.kind !== "block"
    ? old
    : {
        ...old,
        scenes: each(old.scenes, (scene) => ({ ...scene, items: each(scene.items, item) })),
        answers: each(old.answers, answer),
        ...(isJson(old.table) ? { table: { ...old.table, columns: each(old.table.columns, column) } } : {}),
      };

export const to2: Migration = {
  from: 1,
  describe:
    "Items can be turned and locked, texts have fonts, pictures ways to fit; answers say what an early one does and " +
    "whether the first or the last counts; columns are filled from several others.",
  up: (document) => ({
    ...document,
    parts: isJson(document.parts)
      ? Object.fromEntries(Object.entries(document.parts).map(([id, each]) => [id, part(each)]))
      : document.parts,
  }),
};
