import type { RibbonPart } from "~/core/compile/ribbon";

export const pageWidth = 15;
/** Ticks are lower where names of sub-blocks and of brackets both stand below them. */
const [tickHeight, lowTickHeight] = [26, 17];
const gap = 8;

type PlacedTick = {
  trial: number;
  rowNumber: number;
  x: number;
  h: number;
  color: number;
  breaks: number[];
  inWords: string;
};
type PlacedSpan = { x: number; width: number; name: string };
export type RibbonLayout = {
  parts: (RibbonPart & { x: number; width: number })[];
  ticks: PlacedTick[];
  subBlocks: PlacedSpan[];
  brackets: (PlacedSpan & { id: string; depth: number })[];
  tickHeight: number;
  step: number;
  slack: number;
  width: number;
};

/** Where everything stands on a ribbon of this width, in pixels; zoomed in it is so many times as long. */
export function placeTicks(parts: readonly RibbonPart[], trials: number, width: number, zoom: number): RibbonLayout {
  const fixed = parts.reduce((sum, part) => sum + (part.kind === "page" ? pageWidth : gap), 0);
  const step = Math.max(0.1, Math.min(14, (width - fixed) / Math.max(1, trials))) * zoom;
  const slack = step > 3 ? 1.3 : step > 1.6 ? 0.4 : 0;
  const isLow =
    parts.some(({ brackets }) => brackets.length > 0) && parts.some(({ subBlocks }) => subBlocks.length > 0);
  const high = isLow ? lowTickHeight : tickHeight;
  let x = 0;
  const ticks: PlacedTick[] = [];
  const subBlocks: PlacedSpan[] = [];
  const placed = parts.map((part) => {
    const start = x;
    if (part.kind === "page") x += pageWidth;
    else {
      for (const { from, to, name } of part.subBlocks)
        subBlocks.push({ x: start + from * step, width: (to - from + 1) * step - slack, name });
      for (const { trial, rowNumber, breaks, inWords, color, height: level } of part.ticks) {
        ticks.push({
          trial,
          rowNumber,
          breaks,
          inWords,
          color,
          x,
          h: level <= 0 ? high : Math.max(high / 3, high * (1 - 0.4 * level)),
        });
        x += step;
      }
      x += gap;
    }
    return { ...part, x: start, width: x - start };
  });
  // A bracket reaches over all parts that follow each other in it.
  const brackets: RibbonLayout["brackets"] = [];
  for (const part of placed)
    part.brackets.forEach(({ id, name }, depth) => {
      const last = brackets.findLast((each) => each.id === id);
      const end = part.x + part.width - (part.kind === "page" ? 4 : gap);
      if (last) last.width = end - last.x;
      else brackets.push({ id, name, depth, x: part.x, width: end - part.x });
    });
  return { parts: placed, ticks, subBlocks, brackets, tickHeight: high, step, slack, width: x };
}
