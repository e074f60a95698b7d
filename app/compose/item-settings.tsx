import { CornerLeftUp, Lock, LockOpen } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { RemoveUsed } from "~/app/components/used-first";
import { useStudy } from "~/app/editing/use-study";
import { answersGivenBy } from "~/core/design/answer";
import { removeItems, setItem } from "~/core/design/edits/scenes";
import { setSettings } from "~/core/design/edits/study";
import { degreesOf, unitsOf } from "~/core/design/visual-angle";
import { isBinding } from "~/core/values/ref";
import type { Block } from "~/core/design/block";
import type { Item, PositionedItem, SizedItem } from "~/core/items/registry";
import type { Scene } from "~/core/design/scene";
import { resolveNumber } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";
import { BoundNumber, type FieldsProps } from "./item-fields";
import { settingsOf } from "./item-kinds";
import { ItemList } from "./item-list";
import { Margin } from "./margin";
import { useBlockAbove } from "./block-above";
import { NumberField, Property, Section, TextField } from "~/app/components/fields";
import { BindableControl } from "./bindable";
import { ShownIf } from "./shown-if";
import { ScreenChoice } from "./stage/screen-choice";
import { ViewingFields } from "./viewing-fields";

export function ItemSettings({
  block,
  scene,
  item,
  context,
}: {
  block: Block;
  scene: Scene;
  item: Item;
  context: Context;
}) {
  const { edit, look } = useStudy();
  const set = (change: Partial<Item>, merge = "") =>
    edit(setItem(block.id, scene.id, item.id, change), `${merge} ${item.id}`);
  const { Fields, title } = settingsOf(item.kind);
  return (
    <Margin
      up={useBlockAbove(block)}
      title={item.name}
      kind={`${title} in ${scene.name}`}
      actions={
        <>
          {"locked" in item && (
            <IconButton
              icon={item.locked ? Lock : LockOpen}
              label={item.locked ? "Locked on the stage: unlock" : "Lock on the stage"}
              aria-pressed={item.locked}
              onClick={() => set({ locked: !item.locked })}
            />
          )}
          <IconButton
            icon={CornerLeftUp}
            label={`Back to scene ${scene.name}`}
            onClick={() => look({ selected: { kind: "scene", scene: scene.id } })}
          />
          <RemoveUsed
            label="Remove item"
            uses={answersGivenBy(block.answers, item.id)}
            onRemove={() => {
              edit(removeItems(block.id, scene.id, [item.id]));
              look({ selected: { kind: "scene", scene: scene.id } });
            }}
          />
        </>
      }
    >
      <ItemList block={block} scene={scene} context={context} />
      <Section title="What">
        <Property label="Name" htmlFor="item-name">
          <TextField
            id="item-name"
            value={item.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) => (name.trim() ? null : "An item needs a name.")}
          />
        </Property>
        <Fields item={item} block={block} context={context} set={set} />
      </Section>
      {"at" in item && <Where item={item} block={block} context={context} set={set} />}
      <Section title="When">
        <Moment item={item} block={block} context={context} set={set} which="begins" />
        <Moment item={item} block={block} context={context} set={set} which="ends" />
        <ShownIf when={item.when} block={block} onChange={(when) => set({ when })} />
      </Section>
      <ScreenChoice />
    </Margin>
  );
}

function Where({ item, set, ...near }: FieldsProps<PositionedItem>) {
  return (
    <Section title="Where" aside="0, 0 is the centre">
      <Property label="Position">
        {(["x", "y"] as const).map((axis) => (
          <BindableControl
            key={axis}
            label={axis}
            value={item.at[axis]}
            onChange={(value) => set({ at: { ...item.at, [axis]: value } }, axis)}
            {...near}
            constant={resolveNumber(item.at[axis], near.context) ?? 0}
          >
            {(value, change) => <NumberField label={axis} prefix={axis} value={value} onChange={change} />}
          </BindableControl>
        ))}
      </Property>
      {"size" in item && <SizeFields item={item} set={set as FieldsProps<SizedItem>["set"]} {...near} />}
      <BoundNumber
        near={near}
        says="Turned"
        label="turn in degrees, clockwise"
        value={item.turned}
        onChange={(turned) => set({ turned }, "turned")}
        constant={0}
        suffix="°"
      />
    </Section>
  );
}

function SizeFields({ item, set, ...near }: FieldsProps<SizedItem>) {
  const { document, edit } = useStudy();
  const { viewing } = document.settings;
  const sides = ["w", "h"] as const;
  const called = { w: "width", h: "height" };
  return (
    <>
      <Property label="Size">
        {sides.map((side) => (
          <BindableControl
            key={side}
            label={called[side]}
            value={item.size[side]}
            onChange={(value) => set({ size: { ...item.size, [side]: value } }, side)}
            {...near}
            constant={resolveNumber(item.size[side], near.context) ?? 20}
          >
            {(value, change) => (
              <NumberField label={called[side]} prefix={side} value={value} onChange={change} least={0.01} />
            )}
          </BindableControl>
        ))}
      </Property>
      <Property label="In degrees">
        {viewing ? (
          sides.map((side) => {
            const degrees = degreesOf(resolveNumber(item.size[side], near.context) ?? 0, viewing) ?? 0;
            const shown = Math.round(degrees * 100) / 100;
            if (isBinding(item.size[side]))
              return (
                <span key={side} className="flex-1 font-mono text-xs text-muted">
                  {shown}°
                </span>
              );
            return (
              <NumberField
                key={side}
                label={`${called[side]} in degrees of visual angle`}
                value={shown}
                suffix="°"
                least={0.01}
                onChange={(next) => {
                  const units = unitsOf(next, viewing);
                  if (units !== null)
                    set({ size: { ...item.size, [side]: Math.round(units * 100) / 100 } }, `degrees ${side}`);
                }}
              />
            );
          })
        ) : (
          <button
            type="button"
            className="text-sm font-semibold text-plumage"
            onClick={() => edit(setSettings({ viewing: { distanceCm: 57, shorterSideCm: 30 } }))}
          >
            set a viewing distance
          </button>
        )}
      </Property>
      {viewing && <ViewingFields viewing={viewing} />}
    </>
  );
}

const moments = { begins: { says: "Appears", with: "with its scene" }, ends: { says: "Goes", with: "with its scene" } };

/** When an item comes on or goes within its scene. */
function Moment({ item, set, which, ...near }: FieldsProps<Item> & { which: "begins" | "ends" }) {
  const value = item[which];
  const words = moments[which];
  return (
    <Property label={words.says}>
      {value === undefined ? (
        <span className="text-sm">
          {words.with}{" "}
          <button
            type="button"
            className="font-semibold text-plumage"
            aria-label={`Change when it ${which === "begins" ? "appears" : "goes"}`}
            onClick={() => set({ [which]: which === "begins" ? 0 : 500 })}
          >
            change
          </button>
        </span>
      ) : (
        <>
          <BindableControl
            label={which === "begins" ? "beginning" : "end"}
            value={value}
            onChange={(next) => set({ [which]: next }, which)}
            {...near}
            constant={0}
          >
            {(ms, change) => (
              <NumberField
                label={`${words.says}, in milliseconds after its scene`}
                value={ms}
                onChange={change}
                least={0}
                suffix="ms"
              />
            )}
          </BindableControl>
          <button
            type="button"
            className="text-sm font-semibold text-plumage"
            aria-label={`${words.says} ${words.with}`}
            onClick={() => set({ [which]: undefined })}
          >
            with it
          </button>
        </>
      )}
    </Property>
  );
}
