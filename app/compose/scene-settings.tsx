import { Copy, Maximize2, MoveDown, MoveUp, Trash2 } from "lucide-react";
import { toast } from "sonner";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { copyScene, moveScene, removeScene, setScene } from "~/core/design/edits/scenes";
import { copySceneTo } from "~/core/design/edits/carry";
import { blocksInOrder } from "~/core/design/lookup";
import { columnStem } from "~/core/values/names";
import type { Block } from "~/core/design/block";
import type { Lasts, Scene } from "~/core/design/scene";
import { resolveNumber } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import { commonRates, framesInWords } from "~/core/timing/frames";
import { AddItems } from "./add-item";
import { ItemList } from "./item-list";
import { Margin } from "./margin";
import { MarkersOf } from "./markers/markers-of";
import { useBlockAbove } from "./block-above";
import { NotesField } from "./notes-field";
import { Choice, NumberField, Property, Section, TextField } from "~/app/components/fields";
import { BindableControl } from "./bindable";
import { ShownIf } from "./shown-if";
import { ScreenChoice } from "./stage/screen-choice";

const lastings = [
  ["ms", "a fixed time"],
  ["random-ms", "a random time"],
  ["until-answer", "until the answer"],
  ["media-end", "until its media end"],
] as const;
const freshLasts: Record<Lasts["kind"], Lasts> = {
  ms: { kind: "ms", ms: 500 },
  "random-ms": { kind: "random-ms", from: 400, to: 800, step: 50 },
  "until-answer": { kind: "until-answer", atMostMs: 2000 },
  "media-end": { kind: "media-end" },
};

export function SceneSettings({ block, scene, context }: { block: Block; scene: Scene; context: Context }) {
  const { document, edit, look, view } = useStudy();
  const index = block.scenes.indexOf(scene);
  const set = (change: Parameters<typeof setScene>[2], merge?: string) =>
    edit(setScene(block.id, scene.id, change), merge && `${merge} ${scene.id}`);
  const nameProblem = (name: string) => {
    if (!name.trim()) return "A scene needs a name.";
    const taken = block.scenes.find((each) => each !== scene && columnStem(each.name) === columnStem(name));
    return taken
      ? `“${taken.name}” is taken: each scene needs its own name, because it names columns of the data.`
      : null;
  };
  return (
    <Margin
      up={useBlockAbove(block)}
      title={scene.name}
      kind={`scene ${index + 1} of ${block.scenes.length}`}
      actions={
        <>
          {view.opened === null && (
            <IconButton
              icon={Maximize2}
              label="Open the scene as a stage (Enter)"
              onClick={() => look({ opened: scene.id })}
            />
          )}
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
          <Menu align="end" trigger={<IconButton icon={Copy} label="Duplicate or copy the scene" />}>
            <MenuItem
              onSelect={() => {
                const id = newId("scene");
                edit(copyScene(block.id, scene.id, id, newId));
                look({ selected: { kind: "scene", scene: id } });
              }}
            >
              Duplicate here
            </MenuItem>
            {blocksInOrder(document)
              .filter(({ id }) => id !== block.id)
              .map((other) => (
                <MenuItem
                  key={other.id}
                  onSelect={() => {
                    const copied = copySceneTo(document, block.id, scene.id, other.id, newId);
                    if (copied) edit(copied.edit);
                    toast(`Copied to ${other.name}, with the columns it uses.`);
                  }}
                >
                  Copy to {other.name}
                </MenuItem>
              ))}
            <MenuLabel>To another study: Ctrl C in the figure, Ctrl V there</MenuLabel>
          </Menu>
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
      <ItemList block={block} scene={scene} context={context} />
      {view.opened === null && <AddItems block={block} scene={scene} />}
      <ScreenChoice />
      <MarkersOf block={block} at={{ on: "scene-begins", scene: scene.id }} />
      <Section title="Notes">
        <NotesField
          label={`Notes on scene ${scene.name}`}
          value={scene.notes ?? ""}
          onChange={(notes) => set({ notes: notes || undefined }, "notes")}
        />
      </Section>
    </Margin>
  );
}

/** What a duration becomes on a display: whole frames. The commonest rate is told, the others on hovering. */
function Frames({ ms }: { ms: number | null }) {
  if (ms === null) return null;
  const all = commonRates.map((hertz) => framesInWords(ms, hertz));
  return (
    <p className="pl-[86px] text-xs text-muted" title={all.join("\n")} data-frames>
      {framesInWords(ms, 60)}
    </p>
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
    case "media-end":
      return null;
    case "ms":
      return (
        <>
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
          <Frames ms={resolveNumber(lasts.ms, context)} />
        </>
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
