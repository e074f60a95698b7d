import type { Block, ItemKind, PageDevice, SliderDevice, TypedDevice } from "~/core/design/types";
import { Choice, Property } from "../property";
import type { DeviceFields } from "./device";

const itemsOfKind = (block: Block, kind: ItemKind) =>
  block.scenes.flatMap(({ name, items }) =>
    items.filter((item) => item.kind === kind).map((item) => [item.id, `${item.name} in ${name}`] as const),
  );
export const firstOfKind = (block: Block, kind: ItemKind): string => itemsOfKind(block, kind)[0]?.[0] ?? "";

function ItemChoice({
  says,
  kind,
  value,
  onChange,
  block,
}: {
  says: string;
  kind: ItemKind;
  value: string;
  onChange: (item: string) => void;
  block: Block;
}) {
  const items = itemsOfKind(block, kind);
  const known = items.some(([id]) => id === value);
  return (
    <Property label={says}>
      <Choice
        label={says}
        value={value}
        options={[...(known ? [] : [[value, value ? "gone: choose another" : "none yet"] as const]), ...items]}
        onChange={onChange}
      />
    </Property>
  );
}

function Confirm({
  device,
  onChange,
  block,
  alone,
}: {
  device: TypedDevice | SliderDevice;
  onChange: (confirm: string | null) => void;
  block: Block;
  alone: string;
}) {
  return (
    <Property label="Taken">
      <Choice
        label="Taken when"
        value={device.confirm ?? ""}
        options={[["", alone], ...itemsOfKind(block, "button").map(([id, name]) => [id, `with ${name}`] as const)]}
        onChange={(confirm) => onChange(confirm || null)}
      />
    </Property>
  );
}

/** An item that gives the answer, and what takes it. */
const confirmed =
  <D extends TypedDevice | SliderDevice>(says: string, kind: ItemKind, alone: string): DeviceFields<D> =>
  ({ device, onChange, block }) => (
    <>
      <ItemChoice
        says={says}
        kind={kind}
        value={device.item}
        onChange={(item) => onChange({ ...device, item })}
        block={block}
      />
      <Confirm device={device} onChange={(confirm) => onChange({ ...device, confirm })} block={block} alone={alone} />
    </>
  );
export const TypedFields = confirmed<TypedDevice>("Entry", "entry", "with Enter (Ctrl Enter in several lines)");
export const SliderDeviceFields = confirmed<SliderDevice>("Slider", "slider", "when let go, or with Enter");

export const PageFields: DeviceFields<PageDevice> = ({ device, onChange, block }) => (
  <ItemChoice
    says="Web page"
    kind="web"
    value={device.item}
    onChange={(item) => onChange({ ...device, item })}
    block={block}
  />
);
