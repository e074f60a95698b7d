import { toast } from "sonner";
import { usePaste } from "~/app/compose/use-paste";
import { newId } from "~/app/editing/new-id";
import { selectedItems, useStudy } from "~/app/editing/use-study";
import { answersGivenBy } from "~/core/design/answer";
import { aligned, distributed, tenth, type Alignment, type Box } from "~/core/design/arrange";
import { packed } from "~/core/design/edits/carry";
import { together } from "~/core/design/edits/edit";
import { placeItem, type Measured, type PlacingNote } from "~/core/design/edits/placing";
import { copyItems, layerItems, removeItems, setItem } from "~/core/design/edits/scenes";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import type { Scene } from "~/core/design/scene";

export type Placed = { id: Id; change: Measured };

/** Everything that can be done to the selected items of an opened scene; mouse, keys and menu all come here. */
export function useArranging(block: Block, scene: Scene, row: Id | null) {
  const { code, document, edit, look, view } = useStudy();
  const chosen = view.selected.kind === "item" && view.selected.scene === scene.id ? selectedItems(view.selected) : [];
  const select = (items: Id[]) => {
    const [item, ...also] = items;
    look({ selected: item ? { kind: "item", scene: scene.id, item, also } : { kind: "scene", scene: scene.id } });
  };
  /** Sets measures of items as one step; gives what was told, for the bubble. */
  const arrange = (placed: Placed[], merge: string): PlacingNote[] => {
    const notes: PlacingNote[] = [];
    const edits = placed.flatMap(({ id, change }) => {
      const item = scene.items.find((each) => each.id === id);
      if (!item) return [];
      const made = placeItem(document, block, scene.id, item, change, row);
      notes.push(...made.notes);
      return made.edits;
    });
    if (edits.length > 0) edit(together(...edits), merge);
    return notes;
  };
  const isFree = (id: Id) => {
    const item = scene.items.find((each) => each.id === id);
    return item !== undefined && "at" in item && !item.locked;
  };
  const moveBy = (boxes: ReadonlyMap<Id, Box>, moves: { id: Id; dx: number; dy: number }[], merge: string) =>
    arrange(
      moves.flatMap(({ id, dx, dy }) => {
        const box = boxes.get(id);
        if (!box || !isFree(id)) return [];
        const change: Measured = {
          ...(dx === 0 ? {} : { x: tenth(box.x + dx) }),
          ...(dy === 0 ? {} : { y: tenth(box.y + dy) }),
        };
        return [{ id, change }];
      }),
      merge,
    );
  const together_ = (boxes: ReadonlyMap<Id, Box>, how: (all: Box[]) => { dx: number; dy: number }[], word: string) => {
    const free = chosen.filter((id) => boxes.has(id) && isFree(id));
    const moves = how(free.flatMap((id) => boxes.get(id) ?? []));
    return moveBy(
      boxes,
      free.map((id, index) => ({ id, dx: moves[index]?.dx ?? 0, dy: moves[index]?.dy ?? 0 })),
      `${word} ${Date.now()}`,
    );
  };
  const paste = usePaste(block);
  return {
    chosen,
    select,
    isFree,
    arrange,
    moveBy,
    align: (boxes: ReadonlyMap<Id, Box>, to: Alignment) => together_(boxes, (all) => aligned(all, to), `align ${to}`),
    distribute: (boxes: ReadonlyMap<Id, Box>, along: "x" | "y") =>
      together_(boxes, (all) => distributed(all, along), `distribute ${along}`),
    /** Removes what is selected; what gives an answer stays, and is told where it is used. */
    remove: () => {
      const used = chosen.filter((id) => answersGivenBy(block.answers, id).length > 0);
      const names = scene.items.flatMap(({ id, name }) => (used.includes(id) ? [name] : []));
      if (used.length > 0)
        toast(
          `${names.join(", ")} gives ${[...new Set(used.flatMap((id) => answersGivenBy(block.answers, id)))].join(", ")}. Remove it in the margin, which asks first.`,
        );
      const free = chosen.filter((id) => !used.includes(id));
      if (free.length > 0) edit(removeItems(block.id, scene.id, free));
      select(used);
    },
    duplicate: () => {
      const ids = chosen.map(() => newId("item"));
      edit(copyItems(block.id, scene.id, chosen, ids));
      select(ids);
    },
    layer: (to: Parameters<typeof layerItems>[3]) => edit(layerItems(block.id, scene.id, chosen, to)),
    lock: () => {
      const lock = chosen.some(isFree);
      const placed = scene.items.filter((item) => chosen.includes(item.id) && "at" in item);
      edit(together(...placed.map(({ id }) => setItem(block.id, scene.id, id, { locked: lock }))));
    },
    /** The selected items as text for the clipboard; the whole scene where none is selected. */
    copied: (): string =>
      JSON.stringify(
        chosen.length > 0
          ? packed(
              document,
              code,
              block,
              scene.items.filter(({ id }) => chosen.includes(id)),
              null,
            )
          : packed(document, code, block, scene.items, scene),
      ),
    paste: (text: string) => paste(text, scene.id),
  };
}
export type Arranging = ReturnType<typeof useArranging>;
