import type { Block } from "../../design/block";
import type { Scene } from "../../design/scene";
import { columnsOf } from "../../items/item";
import type { Item } from "../../items/registry";
import { columnStem } from "../../values/names";
import type { TrialColumn, TrialSource } from "./trial-source";

const stemOf = (scene: Scene, item: Item) => `${columnStem(scene.name)}_${columnStem(item.name)}`;

/** What items of their own time or of drawn places did: columns by scene and item, as each kind has them. */
export function itemColumns(blocks: readonly Block[]): TrialColumn[] {
  const made = new Map<string, TrialColumn>();
  for (const { scenes } of blocks)
    for (const scene of scenes)
      for (const item of scene.items) {
        const stem = stemOf(scene, item);
        for (const column of columnsOf(item)) {
          const name = `${stem}_${column.name}`;
          if (made.has(name)) continue;
          const meaning = `Item “${item.name}” in scene “${scene.name}”: ${column.meaning}`;
          made.set(name, { ...column, name, meaning, read: (source) => column.read(seenIn(source, stem)) });
        }
      }
  return [...made.values()];
}

/** What a trial's record holds of the item of a name. */
function seenIn({ block, record }: TrialSource, stem: string) {
  const id = block.scenes.flatMap((scene) => scene.items.filter((item) => stemOf(scene, item) === stem))[0]?.id ?? "";
  return { observed: record.observed.filter(({ item }) => item === id), placed: record.placed[id] };
}
