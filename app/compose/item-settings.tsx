import { CornerLeftUp, Trash2 } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { removeItem, setItem } from "~/core/design/edits/scenes";
import {
  isBinding,
  type Block,
  type ImageItem,
  type Item,
  type ItemKind,
  type Scene,
  type ShapeItem,
  type TextItem,
} from "~/core/design/types";
import type { Context } from "~/core/run/resolve";
import { Margin } from "./margin";
import { PicturePicker } from "./picture-picker";
import { BindableControl, Choice, ColorField, NumberField, Property, Section, TextField } from "./property";
import { ShownIf } from "./shown-if";
import { TextEditor } from "./text-editor";

type Fields<T extends Item> = (props: {
  item: T;
  block: Block;
  context: Context;
  set: (change: Partial<T>, merge?: string) => void;
}) => React.ReactNode;

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
  const What = fields[item.kind] as unknown as Fields<Item>;
  return (
    <Margin
      title={item.name}
      kind={`${item.kind} in ${scene.name}`}
      actions={
        <>
          <IconButton
            icon={CornerLeftUp}
            label={`Back to scene ${scene.name}`}
            onClick={() => look({ selected: { kind: "scene", scene: scene.id } })}
          />
          <IconButton
            icon={Trash2}
            label="Remove item"
            onClick={() => {
              edit(removeItem(block.id, scene.id, item.id));
              look({ selected: { kind: "scene", scene: scene.id } });
            }}
          />
        </>
      }
    >
      <p className="mt-1 text-sm text-muted">
        {scene.items.length} {scene.items.length === 1 ? "item" : "items"}:{" "}
        {scene.items.map((each) => (
          <button
            key={each.id}
            type="button"
            aria-pressed={each.id === item.id}
            onClick={() => look({ selected: { kind: "item", scene: scene.id, item: each.id } })}
            className={`mr-1.5 ${each.id === item.id ? "font-bold text-plumage" : "hover:text-ink"}`}
          >
            {each.name}
          </button>
        ))}
      </p>
      <Section title="What">
        <Property label="Name" htmlFor="item-name">
          <TextField
            id="item-name"
            value={item.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) => (name.trim() ? null : "An item needs a name.")}
          />
        </Property>
        <What item={item} block={block} context={context} set={set} />
      </Section>
      <Section title="Where" aside="0, 0 is the centre">
        <Property label="Position">
          {(["x", "y"] as const).map((axis) => (
            <BindableControl
              key={axis}
              label={axis}
              value={item.at[axis]}
              onChange={(value) => set({ at: { ...item.at, [axis]: value } }, axis)}
              block={block}
              context={context}
              constant={0}
            >
              {(value, change) => <NumberField label={axis} prefix={axis} value={value} onChange={change} />}
            </BindableControl>
          ))}
        </Property>
        {item.kind !== "text" && (
          <Property label="Size">
            {(["w", "h"] as const).map((side) => (
              <BindableControl
                key={side}
                label={side === "w" ? "width" : "height"}
                value={item.size[side]}
                onChange={(value) => set({ size: { ...item.size, [side]: value } }, side)}
                block={block}
                context={context}
                constant={20}
              >
                {(value, change) => (
                  <NumberField
                    label={side === "w" ? "width" : "height"}
                    prefix={side}
                    value={value}
                    onChange={change}
                    least={0.01}
                  />
                )}
              </BindableControl>
            ))}
          </Property>
        )}
      </Section>
      <Section title="When">
        <ShownIf when={item.when} block={block} onChange={(when) => set({ when })} />
      </Section>
    </Margin>
  );
}

const TextFields: Fields<TextItem> = ({ item, block, context, set }) => (
  <>
    <TextEditor
      value={item.text}
      onChange={(text) => set({ text }, "text")}
      block={block}
      label={`Text of ${item.name}`}
      small
    />
    <Property label="Letters">
      <BindableControl
        label="letter size"
        value={item.fontSize}
        onChange={(fontSize) => set({ fontSize }, "size")}
        block={block}
        context={context}
        constant={6}
      >
        {(value, change) => (
          <NumberField label="Letter size in stage units" value={value} onChange={change} least={0.01} suffix="u" />
        )}
      </BindableControl>
    </Property>
    <Property label="Colour">
      <BindableControl
        label="colour"
        value={item.color}
        onChange={(color) => set({ color }, "colour")}
        block={block}
        context={context}
        constant="#17211e"
      >
        {(value, change) => <ColorField label="Colour" value={value} onChange={change} />}
      </BindableControl>
    </Property>
    <Property label="Weight">
      <Choice
        label="Weight"
        value={item.weight}
        options={
          [
            ["regular", "regular"],
            ["bold", "bold"],
          ] as const
        }
        onChange={(weight) => set({ weight })}
      />
    </Property>
    <Property label="Lines">
      <Choice
        label="Alignment"
        value={item.align}
        options={
          [
            ["left", "from the left"],
            ["center", "centred"],
            ["right", "to the right"],
          ] as const
        }
        onChange={(align) => set({ align })}
      />
    </Property>
    <Property label="Wrap at">
      <BindableControl
        label="width"
        value={item.width}
        onChange={(width) => set({ width }, "width")}
        block={block}
        context={context}
        constant={80}
      >
        {(value, change) => (
          <NumberField label="Width at which lines wrap" prefix="w" value={value} onChange={change} least={0.01} />
        )}
      </BindableControl>
    </Property>
  </>
);

const ImageFields: Fields<ImageItem> = ({ item, block, context, set }) => (
  <>
    <Property label="Picture">
      <BindableControl
        label="picture"
        value={item.picture}
        onChange={(picture) => set({ picture })}
        block={block}
        context={context}
        constant={
          isBinding(item.picture)
            ? String(context.values["column" in item.picture.from ? item.picture.from.column : ""] ?? "")
            : ""
        }
      >
        {(value, change) => <PicturePicker value={value} onChange={change} />}
      </BindableControl>
    </Property>
    <Property label="Faces">
      <BindableControl
        label="which way it faces"
        value={item.faces}
        onChange={(faces) => set({ faces })}
        block={block}
        context={context}
        constant="right"
      >
        {(value, change) => (
          <Choice
            label="Faces"
            value={value}
            options={[
              ["right", "right, as drawn"],
              ["left", "left, mirrored"],
            ]}
            onChange={change}
          />
        )}
      </BindableControl>
    </Property>
    <Property label="Opacity">
      <BindableControl
        label="opacity"
        value={item.opacity}
        onChange={(opacity) => set({ opacity }, "opacity")}
        block={block}
        context={context}
        constant={100}
      >
        {(value, change) => (
          <NumberField label="Opacity in per cent" value={value} onChange={change} least={0} suffix="%" />
        )}
      </BindableControl>
    </Property>
  </>
);

const ShapeFields: Fields<ShapeItem> = ({ item, block, context, set }) => (
  <>
    <Property label="Form">
      <Choice
        label="Form"
        value={item.form}
        options={
          [
            ["rectangle", "rectangle"],
            ["ellipse", "ellipse"],
            ["line", "line"],
            ["cross", "cross"],
          ] as const
        }
        onChange={(form) => set({ form })}
      />
    </Property>
    <Property label="Fill">
      <BindableControl
        label="fill"
        value={item.fill}
        onChange={(fill) => set({ fill }, "fill")}
        block={block}
        context={context}
        constant="#2e7d8c"
      >
        {(value, change) => <ColorField label="Fill" value={value} onChange={change} />}
      </BindableControl>
    </Property>
    <Property label="Line">
      <BindableControl
        label="line"
        value={item.line}
        onChange={(line) => set({ line }, "line")}
        block={block}
        context={context}
        constant="#17211e"
      >
        {(value, change) => <ColorField label="Line" value={value} onChange={change} />}
      </BindableControl>
    </Property>
    <Property label="Line width">
      <BindableControl
        label="line width"
        value={item.lineWidth}
        onChange={(lineWidth) => set({ lineWidth }, "line width")}
        block={block}
        context={context}
        constant={0.5}
      >
        {(value, change) => (
          <NumberField label="Line width in stage units" value={value} onChange={change} least={0} suffix="u" />
        )}
      </BindableControl>
    </Property>
  </>
);

/** What the margin offers for each kind of item. */
const fields = { text: TextFields, image: ImageFields, shape: ShapeFields } satisfies {
  [K in ItemKind]: Fields<Extract<Item, { kind: K }>>;
};
