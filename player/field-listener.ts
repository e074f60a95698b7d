import type { SliderDevice } from "~/core/devices/slider/slider";
import type { TypedDevice } from "~/core/devices/typed/typed";
import type { Id } from "~/core/values/ref";
import { isField, targetOf, type InputStage, type Send } from "./device-listener";

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
  /** When the first key was typed into each field, and in which trial; that all was deleted again does not begin it anew. */
  const begun = new Map<Element, { trial: string | undefined; at: number }>();
  const emptied = new Set<Element>();
  const fieldOf = (item: Id) => {
    const inItem = `[data-item="${CSS.escape(item)}"]`;
    return root.querySelector<HTMLInputElement | HTMLTextAreaElement>(`${inItem} input, ${inItem} textarea`);
  };
  const give = (device: D, stamp: number) => {
    const field = fieldOf(device.item);
    if (!field || field.classList.contains("untouched")) return;
    const isWanted = field.dataset.takes !== "number" || /^[-+]?(?:\d+(?:[.,]\d+)?|[.,]\d+)$/.test(field.value.trim());
    field.toggleAttribute("aria-invalid", false);
    if (field.value.trim() === "" || !isWanted) return field.setAttribute("aria-invalid", "true");
    const first = begun.get(field);
    const isOfTrial = first !== undefined && first.trial === host.dataset.trial;
    const typed = isOfTrial ? { typedForMs: Math.max(0, stamp - first.at) } : {};
    send({ device: device.device, value: field.value.trim(), on: device.item, ...typed }, stamp);
  };
  const of = (event: Event) => {
    const item = targetOf(event)?.closest<HTMLElement>("[data-item]")?.dataset.item;
    return devices.filter((device) => device.item === item);
  };
  const keydown = (event: KeyboardEvent) => {
    const field = targetOf(event);
    const { trial } = host.dataset;
    if (field && isField(field) && event.key.length === 1) {
      const isNew = (field as HTMLInputElement).value === "" && !emptied.has(field);
      if (isNew || begun.get(field)?.trial !== trial) begun.set(field, { trial, at: event.timeStamp });
    }
    const isLong = field?.localName === "textarea";
    if (event.key !== "Enter" || event.repeat || (isLong && !event.ctrlKey)) return;
    for (const device of of(event)) if (device.confirm === null) give(device, event.timeStamp);
  };
  const input = (event: Event) => {
    const field = targetOf(event) as HTMLInputElement | null;
    if (field?.value === "") emptied.add(field);
    else if (field) emptied.delete(field);
  };
  const click = (event: MouseEvent) => {
    const item = targetOf(event)?.closest<HTMLElement>(".button")?.dataset.item;
    for (const device of devices) if (item !== undefined && device.confirm === item) give(device, event.timeStamp);
  };
  root.addEventListener("keydown", keydown as EventListener);
  root.addEventListener("input", input);
  host.addEventListener("click", click);
  const stop = () => {
    root.removeEventListener("keydown", keydown as EventListener);
    root.removeEventListener("input", input);
    host.removeEventListener("click", click);
  };
  return { give, of, stop };
}
