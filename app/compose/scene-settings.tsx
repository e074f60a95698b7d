import { Copy, Image, MoveDown, MoveUp, Shapes, Trash2, Type } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { newId, useStudy } from "~/app/editing/use-study";
import { newItem } from "~/core/design/defaults";
import {
  addItem,
  copyScene,
  layerItem,
  moveScene,
  removeItem,
  removeScene,
  setScene,
} from "~/core/design/edits/scenes";
import { columnStem, freeTitle } from "~/core/design/names";
import type { Block, ItemKind, Lasts, Scene } from "~/core/design/types";
import type { Context } from "~/core/run/resolve";
import { Margin } from "./margin";
import { BindableControl, Choice, NumberField, Property, Section, TextField } from "./property";
import { ShownIf } from "./shown-if";

export const itemIcons = { text: Type, image: Image, shape: Shapes } as const;

const lastings = [
  ["ms", "a fixed time"],
  ["random-ms", "a random time"],
  ["until-answer", "until the answer"],
] as const;
const freshLasts: Record<Lasts["kind"], Lasts> = {
  ms: { kind: "ms", ms: 500 },
  "random-ms": { kind: "random-ms", from: 400, to: 800, step: 50 },
  "until-answer": { kind: "until-answer", atMostMs: 2000 },
};

export function SceneSettings({ block, scene, context }: { block: Block; scene: Scene; context: Context }) {
  const { edit, look, document } = useStudy();
  const index = block.scenes.indexOf(scene);
  const set = (change: Parameters<typeof setScene>[2], merge?: string) =>
    edit(setScene(block.id, scene.id, change), merge && `${merge} ${scene.id}`);
  const add = (kind: ItemKind) => {
    const item = newItem(
      newId,
      kind,
      freeTitle(
        kind,
        scene.items.map(({ name }) => name),
      ),
    );
    if (item.kind === "image") item.picture = document.media[0]?.id ?? "";
    edit(addItem(block.id, scene.id, item));
    look({ selected: { kind: "item", scene: scene.id, item: item.id } });
  };
  const nameProblem = (name: string) => {
    if (!name.trim()) return "A scene needs a name.";
    const taken = block.scenes.find((each) => each !== scene && columnStem(each.name) === columnStem(name));
    return taken
      ? `“${taken.name}” is used already: each scene has a name of its own, since it names columns of the data.`
      : null;
  };
  return (
    <Margin
      title={scene.name}
      kind={`scene ${index + 1} of ${block.scenes.length}`}
      actions={
        <>
          <IconButton
            icon={MoveUp}
            label="Move scene earlier"
            disabled={index === 0}
            onClick={() => edit(moveScene(block.id, scene.id, index - 1))}
          />
          <IconButton
            icon={MoveDown}
            label="Move scene later"
            disabled={index === block.scenes.length - 1}
            onClick={() => edit(moveScene(block.id, scene.id, index + 1))}
          />
          <IconButton icon={Copy} label="Duplicate scene" onClick={() => edit(copyScene(block.id, scene.id, newId))} />
          <IconButton
            icon={Trash2}
            label="Remove scene"
            disabled={block.scenes.length < 2}
            onClick={() => {
              edit(removeScene(block.id, scene.id));
              look({ selected: { kind: "nothing" } });
            }}
          />
        </>
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="scene-name">
          <TextField
            id="scene-name"
            value={scene.name}
            onChange={(name) => set({ name }, "scene name")}
            problem={nameProblem}
          />
        </Property>
      </Section>
      <Section title="When">
        <Property label="Lasts" htmlFor="scene-lasts">
          <Choice
            id="scene-lasts"
            value={scene.lasts.kind}
            options={lastings}
            onChange={(kind) => set({ lasts: freshLasts[kind] })}
          />
        </Property>
        <LastsFields
          lasts={scene.lasts}
          onChange={(lasts) => set({ lasts }, "lasts")}
          block={block}
          context={context}
        />
        <ShownIf when={scene.when} block={block} onChange={(when) => set({ when })} />
      </Section>
      <Section title="Items, front to back" aside="x to the right, y up">
        {scene.items.length === 0 && (
          <p className="text-sm text-muted">Nothing is shown in this scene. Add a text, a picture or a shape.</p>
        )}
        <ul>
          {scene.items.toReversed().map((item) => {
            const Icon = itemIcons[item.kind];
            return (
              <li key={item.id} className="group flex items-center">
                <button
                  type="button"
                  onClick={() => look({ selected: { kind: "item", scene: scene.id, item: item.id } })}
                  className="flex h-[25px] min-w-0 flex-1 items-center gap-2 rounded-md px-1.5 text-left text-sm hover:bg-plumage-tint"
                >
                  <Icon size={14} aria-hidden="true" className="shrink-0 text-muted" />
                  <span className="truncate">{item.name}</span>
                </button>
                <IconButton
                  icon={MoveUp}
                  label={`Bring ${item.name} forward`}
                  className="!h-6 !w-6"
                  onClick={() => edit(layerItem(block.id, scene.id, item.id, 1))}
                />
                <IconButton
                  icon={Trash2}
                  label={`Remove ${item.name}`}
                  className="!h-6 !w-6"
                  onClick={() => edit(removeItem(block.id, scene.id, item.id))}
                />
              </li>
            );
          })}
        </ul>
        <div className="mt-1 flex gap-1">
          {(["text", "image", "shape"] as const).map((kind) => {
            const Icon = itemIcons[kind];
            return (
              <button
                key={kind}
                type="button"
                aria-label={`Add ${kind}`}
                title={`Add ${kind}`}
                onClick={() => add(kind)}
                className="inline-flex h-7 items-center gap-1.5 whitespace-nowrap rounded-md border border-hairline px-2.5 text-sm capitalize hover:bg-plumage-tint"
              >
                <Icon size={14} aria-hidden="true" />
                {kind}
              </button>
            );
          })}
        </div>
      </Section>
    </Margin>
  );
}

function LastsFields({
  lasts,
  onChange,
  block,
  context,
}: {
  lasts: Lasts;
  onChange: (lasts: Lasts) => void;
  block: Block;
  context: Context;
}) {
  switch (lasts.kind) {
    case "ms":
      return (
        <Property label="Duration">
          <BindableControl
            label="duration"
            value={lasts.ms}
            onChange={(ms) => onChange({ kind: "ms", ms })}
            block={block}
            context={context}
            constant={500}
          >
            {(value, set) => (
              <NumberField label="Duration in milliseconds" value={value} onChange={set} least={0} suffix="ms" />
            )}
          </BindableControl>
        </Property>
      );
    case "random-ms":
      return (
        <>
          <Property label="Between">
            <NumberField
              label="Shortest duration in milliseconds"
              value={lasts.from}
              onChange={(from) => onChange({ ...lasts, from, to: Math.max(from, lasts.to) })}
              least={0}
            />
            <NumberField
              label="Longest duration in milliseconds"
              value={lasts.to}
              onChange={(to) => onChange({ ...lasts, to, from: Math.min(lasts.from, to) })}
              least={0}
              suffix="ms"
            />
          </Property>
          <Property label="In steps of">
            <NumberField
              label="Step in milliseconds"
              value={lasts.step}
              onChange={(step) => onChange({ ...lasts, step })}
              least={1}
              suffix="ms"
            />
          </Property>
        </>
      );
    case "until-answer":
      return (
        <Property label="At most">
          {lasts.atMostMs === undefined ? (
            <button
              type="button"
              className="text-sm font-semibold text-plumage"
              onClick={() => onChange({ kind: "until-answer", atMostMs: 2000 })}
            >
              no limit, set one
            </button>
          ) : (
            <>
              <BindableControl
                label="longest wait"
                value={lasts.atMostMs}
                onChange={(atMostMs) => onChange({ kind: "until-answer", atMostMs })}
                block={block}
                context={context}
                constant={2000}
              >
                {(value, set) => (
                  <NumberField
                    label="Longest wait in milliseconds"
                    value={value}
                    onChange={set}
                    least={0}
                    suffix="ms"
                  />
                )}
              </BindableControl>
              <button
                type="button"
                className="text-sm font-semibold text-plumage"
                onClick={() => onChange({ kind: "until-answer" })}
              >
                none
              </button>
            </>
          )}
        </Property>
      );
  }
}
