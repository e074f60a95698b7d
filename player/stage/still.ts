import type { GratingItem } from "~/core/items/grating/grating";
import type { Item } from "~/core/items/registry";
import type { VideoItem } from "~/core/items/video/video";
import type { Drawing } from "./context";
import { drawer as grating } from "./items/grating";

/** Draws an item as it was so many ms after it had come on, for what moves within itself. */
export type Still = (elapsed: number) => void;

async function gratingStill(element: HTMLElement, item: GratingItem, drawing: Drawing): Promise<Still> {
  const silent = { observed: () => undefined, input: () => undefined };
  const live = await grating.live?.(element, item, drawing, silent, 1000 / 60);
  return (elapsed) => live?.frame?.(elapsed);
}

function videoStill(element: HTMLElement, item: VideoItem): Still {
  const player = element.querySelector("video");
  return (elapsed) => {
    if (!player || !Number.isFinite(player.duration)) return;
    const [from, to] = [item.startMs / 1000, item.stopMs === null ? player.duration : item.stopMs / 1000];
    const length = Math.max(0.001, to - from);
    const played = elapsed / 1000;
    const isOver = played >= length && item.atEnd !== "loop";
    element.style.visibility = isOver && item.atEnd === "vanish" ? "hidden" : "";
    const wanted = from + (isOver ? length - 0.001 : played % length);
    if (!player.seeking && Math.abs(player.currentTime - wanted) > 0.02) player.currentTime = wanted;
  };
}

/** How an item is drawn at any time since it came on; null where it is always as it was drawn first. */
export async function stillOf(element: HTMLElement, item: Item, drawing: Drawing): Promise<Still | null> {
  if (item.kind === "grating") return gratingStill(element, item, drawing);
  return item.kind === "video" ? videoStill(element, item) : null;
}
