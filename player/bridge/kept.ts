import { bridgePort } from "~/core/bridge/messages";
import { object } from "~/core/shape/compound";
import { text, whole } from "~/core/shape/plain";
import { hasShape, type Of } from "~/core/shape/shape";

const key = "lapwing-bridge";
const keptShape = object({ port: whole(1, 65_535), secret: text({ most: 100 }) });
/** The bridge this browser was paired with. */
export type KeptBridge = Of<typeof keptShape>;

/** The bridge that was paired; null where none was, or the browser keeps nothing. */
export function keptBridge(): KeptBridge | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? "null");
    return hasShape(keptShape, kept) ? kept : null;
  } catch {
    return null;
  }
}

export function keepBridge(kept: KeptBridge): void {
  localStorage.setItem(key, JSON.stringify(kept));
}

export const usualPort = bridgePort;
