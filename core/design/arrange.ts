/** A box on the stage in stage units: its centre (y upwards), its sides before it is turned, and its turn clockwise in degrees. */
export type Box = { x: number; y: number; w: number; h: number; turned: number };
/** The upright rectangle around a box. */
export type Bounds = { left: number; right: number; top: number; bottom: number };

export const tenth = (value: number): number => Math.round(value * 10) / 10 + 0;

/** The upright rectangle around one box. */
export function boundsOf({ x, y, w, h, turned }: Box): Bounds {
  const angle = (turned * Math.PI) / 180;
  const [cos, sin] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  const [halfW, halfH] = [(w * cos + h * sin) / 2, (w * sin + h * cos) / 2];
  return { left: x - halfW, right: x + halfW, top: y + halfH, bottom: y - halfH };
}

/** The upright rectangle around several. */
export function boundsAround(bounds: readonly Bounds[]): Bounds {
  return {
    left: Math.min(...bounds.map(({ left }) => left)),
    right: Math.max(...bounds.map(({ right }) => right)),
    top: Math.max(...bounds.map(({ top }) => top)),
    bottom: Math.min(...bounds.map(({ bottom }) => bottom)),
  };
}

/** Half the stage's sides in units, for a display of this width to height. */
export const halfStage = (aspect: number): { w: number; h: number } => ({
  w: 50 * Math.max(1, aspect),
  h: 50 * Math.max(1, 1 / aspect),
});

/** Whether part of a box lies outside a stage of this aspect. */
export function isCutOff(box: Box, aspect: number): boolean {
  const { w, h } = halfStage(aspect);
  const { left, right, top, bottom } = boundsOf(box);
  return left < -w - 0.05 || right > w + 0.05 || top > h + 0.05 || bottom < -h - 0.05;
}

/** Lines that a moved thing can snap to, by the axis they lie across. */
export type Guides = { x: number[]; y: number[] };

/** The stage's centre and edges, and the centres and edges of the others. */
export function guidesFor(others: readonly Bounds[], aspect: number): Guides {
  const { w, h } = halfStage(aspect);
  return {
    x: [0, -w, w, ...others.flatMap(({ left, right }) => [left, (left + right) / 2, right])],
    y: [0, -h, h, ...others.flatMap(({ top, bottom }) => [top, (top + bottom) / 2, bottom])],
  };
}

/** How far to move so that an edge or the centre meets the nearest guide within reach, and the guides that are met. */
export function snapped(moved: Bounds, guides: Guides, reach: number): { dx: number; dy: number; met: Guides } {
  const nearest = (edges: number[], lines: number[]): number => {
    let best = Infinity;
    for (const edge of edges) for (const line of lines) if (Math.abs(line - edge) < Math.abs(best)) best = line - edge;
    return Math.abs(best) <= reach ? best : 0;
  };
  const xs = [moved.left, (moved.left + moved.right) / 2, moved.right];
  const ys = [moved.top, (moved.top + moved.bottom) / 2, moved.bottom];
  const [dx, dy] = [nearest(xs, guides.x), nearest(ys, guides.y)];
  const met = (edges: number[], lines: number[], by: number) => [
    ...new Set(lines.filter((line) => edges.some((edge) => Math.abs(edge + by - line) < 1e-6))),
  ];
  return { dx, dy, met: { x: met(xs, guides.x, dx), y: met(ys, guides.y, dy) } };
}

/** A corner or side by which a box is drawn larger: −1, 0 or 1 to the right and upwards, before it is turned. */
export type Handle = { x: -1 | 0 | 1; y: -1 | 0 | 1 };

/**
 * The box after dragging a handle by (dx, dy) stage units; what lies opposite stays where it is. `keepShape` keeps the
 * ratio of the sides. No side becomes smaller than half a unit.
 */
export function resized(box: Box, handle: Handle, dx: number, dy: number, keepShape: boolean): Box {
  const angle = (box.turned * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  // The turn is clockwise in a space whose y grows upwards.
  const [localX, localY] = [dx * cos - dy * sin, dx * sin + dy * cos];
  let [w, h] = [box.w + handle.x * localX, box.h + handle.y * localY];
  if (keepShape && box.w > 0 && box.h > 0) {
    const scale = handle.x === 0 ? h / box.h : handle.y === 0 ? w / box.w : Math.max(w / box.w, h / box.h);
    [w, h] = [box.w * scale, box.h * scale];
  }
  [w, h] = [Math.max(0.5, tenth(w)), Math.max(0.5, tenth(h))];
  const [shiftX, shiftY] = [(handle.x * (w - box.w)) / 2, (handle.y * (h - box.h)) / 2];
  return { ...box, w, h, x: box.x + shiftX * cos + shiftY * sin, y: box.y - shiftX * sin + shiftY * cos };
}

/** The turn that points a box's top towards a point, in steps of `step` degrees, from 0 up to 360. */
export function turnTowards(box: Box, x: number, y: number, step: number): number {
  const angle = (Math.atan2(x - box.x, y - box.y) * 180) / Math.PI;
  return (((Math.round(angle / step) * step) % 360) + 360) % 360;
}

export type Alignment = "left" | "centre" | "right" | "top" | "middle" | "bottom";

/** How far each box moves to be aligned with the others' common edge or centre. */
export function aligned(boxes: readonly Box[], to: Alignment): { dx: number; dy: number }[] {
  const bounds = boxes.map(boundsOf);
  const all = boundsAround(bounds);
  return bounds.map(({ left, right, top, bottom }) => {
    switch (to) {
      case "left":
        return { dx: all.left - left, dy: 0 };
      case "right":
        return { dx: all.right - right, dy: 0 };
      case "centre":
        return { dx: (all.left + all.right - left - right) / 2, dy: 0 };
      case "top":
        return { dx: 0, dy: all.top - top };
      case "bottom":
        return { dx: 0, dy: all.bottom - bottom };
      case "middle":
        return { dx: 0, dy: (all.top + all.bottom - top - bottom) / 2 };
    }
  });
}

/** How far each box moves so that the gaps between neighbours are equal; those whose centres are outermost stay. */
export function distributed(boxes: readonly Box[], along: "x" | "y"): { dx: number; dy: number }[] {
  const spans = boxes.map((box, index) => {
    const { left, right, top, bottom } = boundsOf(box);
    return along === "x" ? { index, from: left, to: right } : { index, from: bottom, to: top };
  });
  const sorted = spans.toSorted((a, b) => a.from + a.to - (b.from + b.to));
  const [first, last] = [sorted[0], sorted.at(-1)];
  const moves = boxes.map(() => ({ dx: 0, dy: 0 }));
  if (!first || !last || sorted.length < 3) return moves;
  const taken = sorted.reduce((sum, { from, to }) => sum + to - from, 0);
  const gap = (last.to - first.from - taken) / (sorted.length - 1);
  let at = first.from;
  for (const { index, from, to } of sorted) {
    moves[index] = along === "x" ? { dx: at - from, dy: 0 } : { dx: 0, dy: at - from };
    at += to - from + gap;
  }
  return moves;
}
