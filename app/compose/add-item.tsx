import { toast } from "sonner";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { newItem } from "~/core/items/item";
import { addItem } from "~/core/design/edits/scenes";
import { mediaKind, type MediaKind } from "~/core/media/types";
import { freeTitle } from "~/core/values/names";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";
import type { ItemKind } from "~/core/items/registry";
import type { Scene } from "~/core/design/scene";
import { itemKinds } from "~/core/items/registry";
import { settingsOf } from "./item-kinds";

/** Adds an item of a kind to a scene and selects it. A picture or video is the study's first of its kind. */
export function useAddItem(block: Block, scene: Scene | undefined): (kind: ItemKind) => void {
  const { document, edit, look } = useStudy();
  const first = (kind: MediaKind): Id => document.media.find(({ mime }) => mediaKind(mime) === kind)?.id ?? "";
  return (kind) => {
    if (!scene) return void toast("Choose a scene first: the item goes into it.");
    const names = scene.items.map(({ name }) => name);
    const item = newItem(newId, kind, freeTitle(settingsOf(kind).title, names), first);
    edit(addItem(block.id, scene.id, item));
    look({ selected: { kind: "item", scene: scene.id, item: item.id } });
  };
}

/** A row of signs, one for each kind of item, that add one to the scene. */
export function AddItems({ block, scene }: { block: Block; scene: Scene | undefined }) {
  const add = useAddItem(block, scene);
  return (
    <div role="toolbar" aria-label="Add an item to the scene" className="flex flex-wrap gap-0.5">
      {itemKinds.map((kind) => {
        const { icon: Icon, title } = settingsOf(kind);
        return (
          <button
            key={kind}
            type="button"
            aria-label={`Add ${title}`}
            title={`Add ${title}`}
            onClick={() => add(kind)}
            className="grid size-7 place-items-center rounded-md text-muted hover:bg-plumage-tint hover:text-ink"
          >
            <Icon size={16} aria-hidden="true" />
          </button>
        );
      })}
    </div>
  );
}
