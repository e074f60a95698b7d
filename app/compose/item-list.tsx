import { Eye, EyeOff, Lock, MoveDown, MoveUp } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { selectedItems, useStudy } from "~/app/editing/use-study";
import { layerItems } from "~/core/design/edits/scenes";
import type { Block } from "~/core/design/block";
import type { Scene } from "~/core/design/scene";
import { holds } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import { Section } from "~/app/components/fields";
import { settingsOf } from "./item-kinds";

/** A scene's items in the order of their layers. Shift or Ctrl with a click takes several. */
export function ItemList({ block, scene, context }: { block: Block; scene: Scene; context: Context }) {
  const { edit, look, view } = useStudy();
  const chosen = selectedItems(view.selected);
  const choose = (id: string, more: boolean) => {
    const [item, ...also] = !more ? [id] : chosen.includes(id) ? chosen.filter((each) => each !== id) : [id, ...chosen];
    look({ selected: item ? { kind: "item", scene: scene.id, item, also } : { kind: "scene", scene: scene.id } });
  };
  return (
    <Section title="Items, front to back">
      {scene.items.length === 0 && (
        <p className="text-sm text-muted">Nothing in this scene yet. Add an item from the row of icons.</p>
      )}
      <ul aria-label={`Items of ${scene.name}, front to back`}>
        {scene.items.toReversed().map((item, index) => {
          const Icon = settingsOf(item.kind).icon;
          const isShown = item.when === undefined || holds(item.when, context);
          const isChosen = chosen.includes(item.id);
          return (
            <li
              key={item.id}
              className={`group flex items-center rounded-md ${isChosen ? "bg-plumage-tint font-semibold text-plumage" : ""}`}
            >
              <button
                type="button"
                aria-pressed={isChosen}
                onClick={(event) => choose(item.id, event.shiftKey || event.ctrlKey || event.metaKey)}
                className="flex h-[25px] min-w-0 flex-1 items-center gap-2 rounded-md px-1.5 text-left text-sm hover:bg-plumage-tint"
              >
                <Icon size={14} aria-hidden="true" className="shrink-0 text-muted" />
                <span className="truncate">{item.name}</span>
              </button>
              {isChosen && (
                <>
                  <IconButton
                    icon={MoveUp}
                    label={`Bring ${item.name} forward`}
                    className="!h-6 !w-6"
                    disabled={index === 0}
                    onClick={() => edit(layerItems(block.id, scene.id, [item.id], "forward"))}
                  />
                  <IconButton
                    icon={MoveDown}
                    label={`Send ${item.name} back`}
                    className="!h-6 !w-6"
                    disabled={index === scene.items.length - 1}
                    onClick={() => edit(layerItems(block.id, scene.id, [item.id], "back"))}
                  />
                </>
              )}
              {"locked" in item && item.locked && (
                <Lock size={13} role="img" aria-label="locked" className="mx-1 shrink-0 text-muted" />
              )}
              <span
                title={isShown ? "Shown in this trial" : "Not shown in this trial: its condition does not hold"}
                className="mx-1 shrink-0 text-muted"
              >
                {isShown ? (
                  <Eye size={14} role="img" aria-label="shown in this trial" />
                ) : (
                  <EyeOff size={14} role="img" aria-label="not shown in this trial" />
                )}
              </span>
            </li>
          );
        })}
      </ul>
    </Section>
  );
}
