import type { Device } from "~/core/values/device";
import { RefreshWatch } from "./display";

/** A window that is not seen draws no frames; longer than this, in ms, they are not waited for. */
const patience = 3000;

/** What this browser tells of the device, for studies that look at it. */
export async function deviceNow(): Promise<Device> {
  const refresh = new RefreshWatch();
  const isMeasured = await Promise.race([
    refresh.measure().then(() => true),
    new Promise<false>((resolve) => setTimeout(() => resolve(false), patience)),
  ]);
  return {
    touch: matchMedia("(pointer: coarse)").matches,
    width: innerWidth,
    height: innerHeight,
    refreshHz: isMeasured ? Math.round(10_000 / refresh.frameMs) / 10 : null,
    language: navigator.language.slice(0, 40),
  };
}
