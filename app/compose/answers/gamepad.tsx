import { X } from "lucide-react";
import { useEffect, useState } from "react";
import { IconButton } from "~/app/components/button";
import { NumberField } from "~/app/components/fields";
import type { GamepadDevice } from "~/core/devices/gamepad/gamepad";
import { pressedButtons } from "~/player/pressed-buttons";
import type { DeviceSettings } from "../device-settings";

const Fields: DeviceSettings<GamepadDevice>["Fields"] = ({ device, onChange }) => {
  const { buttons } = device;
  const add = (button: number) => {
    if (!buttons.includes(button)) onChange({ ...device, buttons: [...buttons, button] });
  };
  return (
    <>
      <ul className="flex flex-wrap gap-1.5 py-1">
        {buttons.map((button) => (
          <li key={button} className="flex items-center rounded-md border border-hairline pl-1.5">
            <span className="font-mono text-xs">button {button}</span>
            <IconButton
              icon={X}
              label={`Do not allow button ${button}`}
              className="!h-6 !w-6"
              onClick={() => onChange({ ...device, buttons: buttons.filter((each) => each !== button) })}
            />
          </li>
        ))}
      </ul>
      <AddButton onAdd={add} next={Math.max(0, ...buttons) + 1} />
      <p className="text-xs text-muted">
        A controller is looked at once a frame, so that times are up to a frame late; how much is a column of the data.
      </p>
    </>
  );
};

/** Adds a button by pressing it, or by its number. */
function AddButton({ onAdd, next }: { onAdd: (button: number) => void; next: number }) {
  const [isListening, setListening] = useState(false);
  const [number, setNumber] = useState(next);
  useEffect(() => {
    if (!isListening) return;
    const before = pressedButtons();
    let frame = requestAnimationFrame(function look() {
      const [pressed] = [...pressedButtons().keys()].filter((button) => !before.has(button));
      if (pressed === undefined) return void (frame = requestAnimationFrame(look));
      onAdd(pressed);
      setListening(false);
    });
    return () => cancelAnimationFrame(frame);
  }, [isListening, onAdd]);
  return (
    <div className="flex items-center gap-1.5">
      <button
        type="button"
        onClick={() => setListening(!isListening)}
        className={`h-7 rounded-md border px-2 text-sm ${isListening ? "border-plumage bg-plumage-tint" : "border-hairline hover:bg-plumage-tint"}`}
      >
        {isListening ? "Press the button now" : "Add by pressing it"}
      </button>
      <span className="flex w-[52px]">
        <NumberField label="Number of the button" value={number} least={1} whole onChange={setNumber} />
      </span>
      <button
        type="button"
        onClick={() => onAdd(number)}
        className="h-7 rounded-md border border-hairline px-2 text-sm hover:bg-plumage-tint"
      >
        Add it
      </button>
    </div>
  );
}

export const settings: DeviceSettings<GamepadDevice> = {
  title: "Controller",
  offer: "Buttons of a controller",
  Fields,
};
