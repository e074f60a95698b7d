import { X } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { freeTitle } from "~/core/values/names";
import type { Block } from "~/core/design/block";
import { type PointerDevice, type Target, nameOfTarget } from "~/core/devices/pointer/pointer";
import { NumberField, Property, TextField } from "~/app/components/fields";
import { BindableControl } from "../bindable";
import type { DeviceSettings } from "../device-settings";

/** Items and regions that can be pointed at, each with the answer it stands for. */
const Fields: DeviceSettings<PointerDevice>["Fields"] = ({ device, onChange, block, context }) => {
  const { targets } = device;
  const setTarget = (at: number, target: Target | null) =>
    onChange({
      ...device,
      targets: targets.flatMap((each, index) => (index !== at ? [each] : target ? [target] : [])),
    });
  const free = pointable(block).filter(({ id }) => !targets.some((target) => nameOfTarget(target) === id));
  const regionName = freeTitle("region", targets.map(nameOfTarget));
  return (
    <>
      {targets.map((target, index) => {
        const name =
          "region" in target ? target.region : (pointable(block).find(({ id }) => id === target.item)?.name ?? "gone");
        return (
          <div key={nameOfTarget(target)}>
            <Property label={name}>
              {target.value === null ? (
                <button
                  type="button"
                  aria-label={`${name} stands for its name: change`}
                  className="min-w-0 flex-1 truncate text-left text-sm"
                  onClick={() => setTarget(index, { ...target, value: name })}
                >
                  its name <b className="font-semibold text-plumage">change</b>
                </button>
              ) : (
                <BindableControl
                  label={`value of ${name}`}
                  value={target.value}
                  onChange={(value) => setTarget(index, { ...target, value })}
                  block={block}
                  context={context}
                  constant={name}
                >
                  {(value, change) => (
                    <TextField label={`${name} stands for`} value={String(value)} onChange={change} />
                  )}
                </BindableControl>
              )}
              <IconButton
                icon={X}
                label={`Do not take ${name}`}
                className="!h-6 !w-6"
                onClick={() => setTarget(index, null)}
              />
            </Property>
            {"region" in target && (
              <div className="grid grid-cols-4 gap-1">
                {(
                  [
                    ["x", target.at.x, (x: number) => ({ at: { ...target.at, x } })],
                    ["y", target.at.y, (y: number) => ({ at: { ...target.at, y } })],
                    ["w", target.size.w, (w: number) => ({ size: { ...target.size, w } })],
                    ["h", target.size.h, (h: number) => ({ size: { ...target.size, h } })],
                  ] as const
                ).map(([side, value, change]) => (
                  <NumberField
                    key={side}
                    label={`${name}: ${side}`}
                    prefix={side}
                    value={value}
                    least={side === "w" || side === "h" ? 0.01 : -Infinity}
                    onChange={(next) => setTarget(index, { ...target, ...change(next) })}
                  />
                ))}
              </div>
            )}
          </div>
        );
      })}
      <Menu
        trigger={
          <button type="button" className="h-7 rounded-md border border-hairline px-2 text-sm hover:bg-plumage-tint">
            Add an item or region
          </button>
        }
      >
        {free.length > 0 && <MenuLabel>Items</MenuLabel>}
        {free.map(({ id, name, scene }) => (
          <MenuItem key={id} onSelect={() => onChange({ ...device, targets: [...targets, { item: id, value: null }] })}>
            {name} <span className="text-muted">in {scene}</span>
          </MenuItem>
        ))}
        <MenuItem
          onSelect={() =>
            onChange({
              ...device,
              targets: [...targets, { region: regionName, at: { x: 0, y: 0 }, size: { w: 40, h: 40 }, value: null }],
            })
          }
        >
          A region of the stage
        </MenuItem>
      </Menu>
    </>
  );
};

const pointable = (block: Block) =>
  block.scenes.flatMap(({ name: scene, items }) =>
    items.filter((item) => "at" in item).map(({ id, name }) => ({ id, name, scene })),
  );

export const settings: DeviceSettings<PointerDevice> = {
  title: "Pointing",
  offer: "Pointing at items, buttons or regions",
  Fields,
};
