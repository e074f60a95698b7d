import type { Block } from "~/core/design/block";
import type { ItemKind } from "~/core/items/registry";
import type { SliderDevice } from "~/core/devices/slider/slider";
import type { TypedDevice } from "~/core/devices/typed/typed";
import { Choice, Property } from "~/app/components/fields";
import type { DeviceSettings } from "./device-settings";

const itemsOfKind = (block: Block, kind: ItemKind) =>
  block.scenes.flatMap(({ name, items }) =>
    items.filter((item) => item.kind === kind).map((item) => [item.id, `${item.name} in ${name}`] as const),
  );

export function ItemChoice({
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
export const confirmed =
  <D extends TypedDevice | SliderDevice>(says: string, kind: ItemKind, alone: string): DeviceSettings<D>["Fields"] =>
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
