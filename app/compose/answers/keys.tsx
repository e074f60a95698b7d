import { X } from "lucide-react";
import { useState } from "react";
import { IconButton } from "~/app/components/button";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { type KeyDevice, keyLabel, placeOfKey } from "~/core/devices/keys/keys";
import { isBinding, type Bindable } from "~/core/values/ref";
import type { Block } from "~/core/design/block";
import { resolve } from "~/core/values/resolve";
import { keyName } from "~/player/device-listener";
import { Chip } from "../chip";
import { Choice, NumberField, Property } from "~/app/components/fields";
import { useNames } from "../bindable";
import { refName } from "~/core/describe/words";
import type { DeviceSettings } from "../device-settings";

const Fields: DeviceSettings<KeyDevice>["Fields"] = ({ device, onChange, block, context }) => {
  const { document } = useStudy();
  const { keys } = device;
  const set = (change: Partial<KeyDevice>) => onChange({ ...device, ...change });
  return (
    <>
      <ul className="flex flex-wrap gap-1.5 py-1">
        {keys.map((key, index) => (
          <li key={index} className="flex items-center rounded-md border border-hairline pl-1.5">
            {isBinding(key) ? (
              <Chip gone={refName(key.from, document, block) === null}>
                {refName(key.from, document, block) ?? "gone"} → {keyLabel(String(resolve(key, context) ?? "?"))}
              </Chip>
            ) : (
              <kbd className="font-mono text-xs">{keyLabel(key)}</kbd>
            )}
            <IconButton
              icon={X}
              label={`Do not allow ${isBinding(key) ? (refName(key.from, document, block) ?? "this key") : keyLabel(key)}`}
              className="!h-6 !w-6"
              onClick={() => set({ keys: keys.filter((_, each) => each !== index) })}
            />
          </li>
        ))}
      </ul>
      <AddKey
        byPlace={device.by === "place"}
        onAdd={(key) => keys.some((each) => each === key) || set({ keys: [...keys, key] })}
        block={block}
      />
      <Property label="Known by">
        <Choice
          label="Keys are identified by"
          value={device.by}
          options={[
            ["letter", "what they type"],
            ["place", "their position on the keyboard"],
          ]}
          onChange={(by) => set({ by })}
        />
      </Property>
      <Property label="Counts when">
        <Choice
          label="A key counts when it is"
          value={device.act}
          options={[
            ["press", "pressed"],
            ["hold", "held"],
            ["release", "let go"],
          ]}
          onChange={(act) => set({ act, holdMs: act === "hold" ? device.holdMs || 500 : 0 })}
        />
        {device.act === "hold" && (
          <NumberField
            label="Held for at least, in milliseconds"
            value={device.holdMs}
            least={1}
            suffix="ms"
            onChange={(holdMs) => set({ holdMs })}
          />
        )}
      </Property>
    </>
  );
};

/** Adds a key by pressing it, or a key that comes from a group value or a column. */
function AddKey({ onAdd, block, byPlace }: { onAdd: (key: Bindable<string>) => void; block: Block; byPlace: boolean }) {
  const [listening, setListening] = useState(false);
  const families = useNames(block, false);
  return (
    <div className="flex gap-1.5">
      <button
        type="button"
        onClick={() => setListening(true)}
        onBlur={() => setListening(false)}
        onKeyDown={(event) => {
          if (!listening || event.key === "Tab" || event.key === "Shift") return;
          event.preventDefault();
          event.stopPropagation();
          const key = byPlace ? placeOfKey(event.code) : keyName(event.nativeEvent);
          if (key !== "Escape") onAdd(key.length === 1 ? key.toLowerCase() : key);
          setListening(false);
        }}
        className={`h-7 rounded-md border px-2 text-sm ${listening ? "border-plumage bg-plumage-tint" : "border-hairline hover:bg-plumage-tint"}`}
      >
        {listening ? "Press the key now" : "Add a key by pressing it"}
      </button>
      {families.length > 0 && (
        <Menu
          trigger={
            <button type="button" className="h-7 rounded-md border border-hairline px-2 text-sm hover:bg-plumage-tint">
              From…
            </button>
          }
        >
          {families.map((family) => (
            <div key={family.label}>
              <MenuLabel>{family.label}</MenuLabel>
              {family.names.map(({ name, ref }) => (
                <MenuItem key={name} onSelect={() => onAdd({ from: ref })}>
                  <span className="font-mono text-xs">{name}</span>
                </MenuItem>
              ))}
            </div>
          ))}
        </Menu>
      )}
    </div>
  );
}

export const settings: DeviceSettings<KeyDevice> = { title: "Keys", offer: "Keys", Fields };
