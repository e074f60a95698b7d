import type { SliderDevice } from "~/core/devices/slider/slider";
import type { TypedDevice } from "~/core/devices/typed/typed";
import type { Id } from "~/core/values/ref";
import { targetOf, type InputStage, type Send } from "./device-listener";

type FieldDevice = TypedDevice | SliderDevice;
export type Fields<D extends FieldDevice> = {
  /** Sends what the device's field holds, where it holds something that can be taken. */
  give: (device: D, stamp: number) => void;
  /** The devices whose field an event happened to. */
  of: (event: Event) => D[];
  stop: () => void;
};

/** What entries and sliders have in common: they are taken at Enter, or with the button that confirms them. */
export function listenToFields<D extends FieldDevice>(devices: D[], { host, root }: InputStage, send: Send): Fields<D> {
  const fieldOf = (item: Id) => {
    const inItem = `[data-item="${CSS.escape(item)}"]`;
    return root.querySelector<HTMLInputElement | HTMLTextAreaElement>(`${inItem} input, ${inItem} textarea`);
  };
  const give = (device: D, stamp: number) => {
    const field = fieldOf(device.item);
    if (!field || field.classList.contains("untouched")) return;
    const isWanted = field.dataset.takes !== "number" || /^[-+]?\d*[.,]?\d+$/.test(field.value.trim());
    field.toggleAttribute("aria-invalid", false);
    if (field.value.trim() === "" || !isWanted) return field.setAttribute("aria-invalid", "true");
    send({ device: device.device, value: field.value.trim(), on: device.item }, stamp);
  };
  const of = (event: Event) => {
    const item = targetOf(event)?.closest<HTMLElement>("[data-item]")?.dataset.item;
    return devices.filter((device) => device.item === item);
  };
  const keydown = (event: KeyboardEvent) => {
    const isLong = targetOf(event)?.localName === "textarea";
    if (event.key !== "Enter" || event.repeat || (isLong && !event.ctrlKey)) return;
    for (const device of of(event)) if (device.confirm === null) give(device, event.timeStamp);
  };
  const click = (event: MouseEvent) => {
    const item = targetOf(event)?.closest<HTMLElement>(".button")?.dataset.item;
    for (const device of devices) if (item !== undefined && device.confirm === item) give(device, event.timeStamp);
  };
  root.addEventListener("keydown", keydown as EventListener);
  host.addEventListener("click", click);
  const stop = () => {
    root.removeEventListener("keydown", keydown as EventListener);
    host.removeEventListener("click", click);
  };
  return { give, of, stop };
}
