import type { RibbonPart, Ticks } from "~/core/compile/ribbon";
import type { Id } from "~/core/values/ref";

export const pageWidth = 15;
/** Ticks are lower where names of sub-blocks and of brackets both stand below them. */
const [tickHeight, lowTickHeight] = [26, 17];
const gap = 8;

/** One tick: its trial, its part and index there, and its x. */
export type PlacedTick = { trial: number; part: Id; at: number; rowNumber: number; color: number; x: number };
export type PlacedPart = RibbonPart & { x: number; width: number };
type PlacedSpan = { x: number; width: number; name: string };
export type RibbonLayout = {
  parts: PlacedPart[];
  /** How many ticks there are. */
  count: number;
  subBlocks: PlacedSpan[];
  brackets: (PlacedSpan & { id: string; depth: number })[];
  tickHeight: number;
  /** From one tick to the next, and how much of that stays free. */
  step: number;
  slack: number;
  width: number;
};

/** Where everything stands on a ribbon of this width, in pixels; zoomed in it is so many times as long. */
export function layOutTicks(parts: readonly RibbonPart[], trials: number, width: number, zoom: number): RibbonLayout {
  const fixed = parts.reduce((sum, { ticks }) => sum + (ticks ? gap : pageWidth), 0);
  const step = Math.max(0.1, Math.min(14, (width - fixed) / Math.max(1, trials))) * zoom;
  const slack = step > 3 ? 1.3 : step > 1.6 ? 0.4 : 0;
  const isLow =
    parts.some(({ brackets }) => brackets.length > 0) && parts.some(({ subBlocks }) => subBlocks.length > 0);
  let [x, count] = [0, 0];
  const subBlocks: PlacedSpan[] = [];
  const placed = parts.map((part): PlacedPart => {
    const start = x;
    const { length } = part.ticks?.rows ?? [];
    x += part.ticks ? length * step + gap : pageWidth;
    count += length;
    for (const { from, to, name } of part.subBlocks)
      subBlocks.push({ x: start + from * step, width: (to - from + 1) * step - slack, name });
    return { ...part, x: start, width: x - start };
  });
  // A bracket reaches over all parts that follow each other in it.
  const brackets: RibbonLayout["brackets"] = [];
  for (const part of placed)
    part.brackets.forEach(({ id, name }, depth) => {
      const last = brackets.findLast((each) => each.id === id);
      const end = part.x + part.width - (part.ticks ? gap : 4);
      if (last) last.width = end - last.x;
      else brackets.push({ id, name, depth, x: part.x, width: end - part.x });
    });
  return {
    parts: placed,
    count,
    subBlocks,
    brackets,
    tickHeight: isLow ? lowTickHeight : tickHeight,
    step,
    slack,
    width: x,
  };
}

/** How high a tick is, by its index in its part: the first level is the highest. */
export function heightOf({ tickHeight: high }: RibbonLayout, { heights }: Ticks, at: number): number {
  const level = heights[at] ?? -1;
  return level <= 0 ? high : Math.max(high / 3, high * (1 - 0.4 * level));
}

export const xOfTick = ({ step }: RibbonLayout, part: PlacedPart, at: number): number => part.x + at * step;

function placedTick(layout: RibbonLayout, part: PlacedPart, at: number): PlacedTick | undefined {
  const { ticks } = part;
  const rowNumber = ticks?.rows[at];
  if (!ticks || rowNumber === undefined) return undefined;
  return {
    trial: ticks.first + at,
    part: part.part,
    at,
    rowNumber,
    color: ticks.colors[at] ?? -1,
    x: xOfTick(layout, part, at),
  };
}

/** The tick at an x in pixels; a page, the ends and the gaps have none. */
export function tickAt(layout: RibbonLayout, x: number): PlacedTick | undefined {
  const part = layout.parts.find(({ x: start, width }) => x >= start - layout.slack && x < start + width);
  return part && placedTick(layout, part, Math.max(0, Math.floor((x - part.x) / layout.step)));
}

/** The tick of a trial, by its number in the session. */
export function tickOf(layout: RibbonLayout, trial: number): PlacedTick | undefined {
  for (const part of layout.parts) {
    const found = part.ticks && placedTick(layout, part, trial - part.ticks.first);
    if (found) return found;
  }
  return undefined;
}
