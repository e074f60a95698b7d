import { type Column, cellValue } from "../../values/table";
import type { Id, NewId, Ref, Scalar } from "../../values/ref";
import { blockOf } from "../lookup";
import { freeTitle } from "../../values/names";
import type { Block } from "../block";
import type { GroupValue, MediaFile } from "../../values/study-values";
import type { Item } from "../../items/registry";
import type { Scene } from "../scene";
import type { StudyDocument } from "../document";
import { refKey, usesIn } from "../../values/uses";
import { inBlock } from "./block";
import { together, type Edit } from "./edit";
import { packedRules, unpackedRules, type CarriedRules } from "./carry-rules";
import { addScene, shifted } from "./scenes";
import { withIds } from "./with-ids";

/** Items or a scene being copied elsewhere, with everything they refer to. It travels as text through the clipboard. */
export type Carried = {
  lapwing: "items" | "scene";
  /** Code of the study it comes from, where its media lie. */
  study: string;
  items: Item[];
  scene: Omit<Scene, "id" | "items"> | null;
  columns: (Omit<Column, "cases"> & { values: (Scalar | null)[] })[];
  groupValues: Pick<GroupValue, "id" | "name" | "type" | "perGroup">[];
  media: MediaFile[];
  /** The rules of the scene, with what they refer to. */
  rules?: CarriedRules;
};

/** Packs items, or a whole scene, with the columns, group values and media they use. */
export function packed(
  document: StudyDocument,
  study: string,
  block: Block,
  items: Item[],
  scene: Scene | null,
): Carried {
  const uses = new Set(usesIn({ items, scene }).map(({ ref }) => refKey(ref)));
  const columns = block.table.columns.filter(({ id }) => uses.has(refKey({ column: id })));
  const words = wordsIn([items, columns.map((column) => block.table.rows.map(({ cells }) => cells[column.id]))]);
  return {
    lapwing: scene ? "scene" : "items",
    study,
    items,
    scene: scene && {
      name: scene.name,
      lasts: scene.lasts,
      when: scene.when,
      notes: scene.notes,
    },
    columns: columns.map((column) => ({
      id: column.id,
      name: column.name,
      type: column.type,
      factor: column.factor,
      // What fills a column stays behind; its values, as the first group has them, come along.
      values: block.table.rows.map((row) => cellValue(document, row, column, document.groups[0]?.id ?? "")),
    })),
    groupValues: document.groupValues.filter(({ id }) => uses.has(refKey({ groupValue: id }))),
    media: document.media.filter(({ id }) => words.has(id)),
    ...(scene?.rules && scene.rules.length > 0
      ? { rules: packedRules(document, study, { part: block.id, scene: scene.id }, scene.rules) }
      : {}),
  };
}

/** What was packed, read back from a text; null for any other text. */
export function carriedFrom(text: string): Carried | null {
  if (!text.startsWith('{"lapwing":')) return null;
  try {
    const value = JSON.parse(text) as Partial<Carried>;
    const isWhole =
      (value.lapwing === "items" || value.lapwing === "scene") &&
      [value.items, value.columns, value.groupValues, value.media].every(Array.isArray);
    return isWhole ? (value as Carried) : null;
  } catch {
    return null;
  }
}

export type Unpacked = {
  edit: Edit;
  /** Ids of what was put in: the items, or the scene. */
  items: Id[];
  scene: Id | null;
};

/**
 * Puts what was packed into a block: items into `scene`, a scene behind it. Names lead: a column or group value of the
 * same name is taken, any other is added with its values, row by row. Media are known by their content. Its items get ids
 * and names of their own.
 */
export function unpacked(
  document: StudyDocument,
  block: Block,
  scene: Id | null,
  carried: Carried,
  newId: NewId,
): Unpacked {
  const ids = new Map<string, Id>();
  const edits: Edit[] = [];
  const mediaIds = new Map<string, Id>();
  for (const file of carried.media) {
    const there = document.media.find(({ sha256 }) => sha256 === file.sha256);
    const isTaken = document.media.some(({ id }) => id === file.id);
    const id = there?.id ?? (isTaken ? newId("media") : file.id);
    mediaIds.set(file.id, id);
    if (!there) edits.push((draft) => void draft.media.push({ ...file, id }));
  }
  for (const { values, ...column } of carried.columns) {
    const there = block.table.columns.find(({ name }) => name === column.name);
    const id = there?.id ?? newId("column");
    ids.set(refKey({ column: column.id }), id);
    if (there) continue;
    edits.push(
      inBlock(block.id, ({ table }) => {
        table.columns.push({ id, name: column.name, type: column.type, factor: column.factor });
        table.rows.forEach((row, index) => {
          const value = values[index];
          if (value !== undefined && value !== null) row.cells[id] = mediaIds.get(String(value)) ?? value;
        });
      }),
    );
  }
  for (const value of carried.groupValues) {
    const there = document.groupValues.find(({ name }) => name === value.name);
    const id = there?.id ?? newId("value");
    ids.set(refKey({ groupValue: value.id }), id);
    if (there) continue;
    const known = Object.values(value.perGroup);
    edits.push((draft) => {
      const perGroup = Object.fromEntries(
        draft.groups.map((group, index) => [group.id, known[index] ?? known[0] ?? ""]),
      );
      draft.groupValues.push({ ...value, id, perGroup });
    });
  }
  const renamed = <T>(value: T): T => renamedIn(value, ids, mediaIds) as T;
  if (carried.scene) {
    const itemIds = new Map(carried.items.map((item) => [item.id, newId("item")]));
    const items = renamed(carried.items).map((item) => ({ ...item, id: itemIds.get(item.id) as Id }));
    const names = block.scenes.map(({ name }) => name);
    // Through JSON, so that what is absent stays absent.
    const made: Scene = {
      ...(JSON.parse(JSON.stringify(renamed(carried.scene))) as Omit<Scene, "id" | "items">),
      id: newId("scene"),
      name: freeTitle(carried.scene.name, names),
      items,
    };
    const rules = carried.rules && {
      ...carried.rules,
      rules: withIds(carried.rules.rules, itemIds),
      // What the items brought along is there already.
      media: carried.rules.media.filter(({ sha256 }) => !carried.media.some((file) => file.sha256 === sha256)),
    };
    const place = { part: block.id, scene: made.id };
    return {
      edit: together(
        ...edits,
        addScene(block.id, made, scene),
        ...(rules ? [unpackedRules(document, place, rules, newId).edit] : []),
      ),
      items: items.map(({ id }) => id),
      scene: made.id,
    };
  }
  const there = block.scenes.find(({ id }) => id === scene)?.items ?? [];
  const names = there.map(({ name }) => name);
  const items = renamed(carried.items).map((item) => {
    const name = freeTitle(item.name, names);
    const isCopy = name !== item.name;
    names.push(name);
    return { ...(isCopy ? shifted(item, 3) : item), id: newId("item"), name };
  });
  edits.push(inBlock(block.id, ({ scenes }) => void scenes.find(({ id }) => id === scene)?.items.push(...items)));
  return { edit: together(...edits), items: items.map(({ id }) => id), scene };
}

/** A scene copied to another block of the same study, with what it refers to. */
export function copySceneTo(document: StudyDocument, from: Id, scene: Id, to: Id, newId: NewId): Unpacked | null {
  const source = blockOf(document, from);
  const found = source.scenes.find(({ id }) => id === scene);
  const target = blockOf(document, to);
  return found
    ? unpacked(
        document,
        target,
        target.scenes.at(-1)?.id ?? null,
        packed(document, "", source, found.items, found),
        newId,
      )
    : null;
}

/** Every text inside a value. */
function wordsIn(value: unknown, into = new Set<string>()): Set<string> {
  if (typeof value === "string") into.add(value);
  else if (typeof value === "object" && value !== null) for (const inner of Object.values(value)) wordsIn(inner, into);
  return into;
}

/** A copy of a value with references and media ids replaced. */
function renamedIn(value: unknown, refs: Map<string, Id>, media: Map<string, Id>): unknown {
  if (typeof value === "string") return media.get(value) ?? value;
  if (Array.isArray(value)) return value.map((each) => renamedIn(each, refs, media));
  if (typeof value !== "object" || value === null) return value;
  const [only, ...more] = Object.entries(value);
  if (only && more.length === 0 && ["column", "groupValue"].includes(only[0]) && typeof only[1] === "string")
    return { [only[0]]: refs.get(refKey(value as Ref)) ?? only[1] };
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, renamedIn(inner, refs, media)]));
}
