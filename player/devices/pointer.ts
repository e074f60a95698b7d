import { nameOfTarget, type PointerDevice, type Target } from "~/core/devices/pointer/pointer";
import { inUnits, targetOf, type DeviceListener } from "../device-listener";

export const listener: DeviceListener<PointerDevice> = (devices, { host, root, nameOf }, send) => {
  const targets = devices.flatMap((each) => each.targets);
  const down = (event: PointerEvent) => {
    if (!event.isPrimary || event.button !== 0) return;
    const at = inUnits(host, event);
    const by = event.pointerType === "touch" || event.pointerType === "pen" ? event.pointerType : "mouse";
    const hit = targetAt(root, event, at, targets);
    if (hit) send({ device: "pointer", value: hit.value ?? nameOf(hit.on), on: hit.on, by, ...at }, event.timeStamp);
  };
  const click = (event: MouseEvent) => {
    // A click without a pointer is a button worked by the keyboard.
    const item = event.detail === 0 ? targetOf(event)?.closest<HTMLElement>(".button")?.dataset.item : undefined;
    if (item && targets.some((target) => nameOfTarget(target) === item))
      send({ device: "pointer", value: nameOf(item), on: item, by: "keyboard" }, event.timeStamp);
  };
  host.addEventListener("pointerdown", down);
  host.addEventListener("click", click);
  return () => {
    host.removeEventListener("pointerdown", down);
    host.removeEventListener("click", click);
  };
};

/** The frontmost target under the pointer: an item first, then a region. In an array, only its elements count. */
function targetAt(
  root: ShadowRoot,
  event: PointerEvent,
  at: { x: number; y: number },
  targets: Target[],
): { on: string; value: string | null } | null {
  for (const element of root.elementsFromPoint(event.clientX, event.clientY)) {
    const item = element.closest<HTMLElement>("[data-item]");
    if (!item || !targets.some((target) => nameOfTarget(target) === item.dataset.item)) continue;
    const role = element.closest<HTMLElement>("[data-element]")?.dataset.element ?? null;
    if (item.classList.contains("array") && role === null) continue;
    return { on: item.dataset.item ?? "", value: role };
  }
  const region = targets.find(
    (target) =>
      "region" in target &&
      Math.abs(at.x - target.at.x) <= target.size.w / 2 &&
      Math.abs(at.y - target.at.y) <= target.size.h / 2,
  );
  return region ? { on: nameOfTarget(region), value: nameOfTarget(region) } : null;
}
