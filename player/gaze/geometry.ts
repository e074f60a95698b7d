import type { Place } from "~/core/gaze/calibrate";
import { packedColumns, type SampleColumns } from "~/core/gaze/packed";

/** The window, as it lies on its display, in CSS pixels. */
type View = { left: number; top: number; width: number; height: number; wide: number; high: number };

function viewNow(): View {
  const isFull = document.fullscreenElement !== null;
  return {
    left: isFull ? 0 : screenX + Math.max(0, outerWidth - innerWidth) / 2,
    top: isFull ? 0 : screenY + Math.max(0, outerHeight - innerHeight),
    ...{ width: innerWidth, height: innerHeight, wide: screen.width, high: screen.height },
  };
}
const unitOf = ({ width, height }: View) => Math.min(width, height) / 100;

/** How far a stage that fills the window reaches from its middle, in stage units. */
export function halfStage(): Place {
  const view = viewNow();
  return { x: view.width / 2 / unitOf(view), y: view.height / 2 / unitOf(view) };
}

/** Where the middle of an element is, in stage units. */
export function placeOf(element: Element): Place {
  const view = viewNow();
  const { left, top, width, height } = element.getBoundingClientRect();
  return {
    x: (left + width / 2 - view.width / 2) / unitOf(view),
    y: -(top + height / 2 - view.height / 2) / unitOf(view),
  };
}

/** Pixels of the window from its upper left corner, of a place on the stage. */
export function pixelsOf({ x, y }: Place): { left: number; top: number } {
  const view = viewNow();
  return { left: view.width / 2 + x * unitOf(view), top: view.height / 2 - y * unitOf(view) };
}

/** A place on the stage as a tracker knows it: from −0.5 to 0.5 of the display, to the right and downwards. */
export function onDisplay(place: Place): Place {
  const view = viewNow();
  const { left, top } = pixelsOf(place);
  return { x: (view.left + left) / view.wide - 0.5, y: (view.top + top) / view.high - 0.5 };
}

/** Samples of a tracker, with their places in stage units. */
export function inStageUnits(samples: SampleColumns): SampleColumns {
  const view = viewNow();
  const unit = unitOf(view);
  const placed = { ...samples };
  for (const name of packedColumns) {
    if (name.endsWith("X"))
      placed[name] = samples[name].map((x) => ((x + 0.5) * view.wide - view.left - view.width / 2) / unit);
    if (name.endsWith("Y"))
      placed[name] = samples[name].map((y) => -((y + 0.5) * view.high - view.top - view.height / 2) / unit);
  }
  return placed;
}
