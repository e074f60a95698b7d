import { shuffled } from "../../random/shuffle";
import type { Stream } from "../../random/stream";
import type { ArrayElement } from "../../values/context";
import type { ArrayItem } from "./array";

/** Tries for one scattered element before the field counts as full. */
const mostTries = 400;

/**
 * Draws the positions of an array's elements for one trial. `count` is how many are wanted, `w` and `h` the field in
 * stage units, `present` whether one of them is the target. Ring: equal angles from a drawn first one. Grid: drawn
 * cells of it, without repetition. Scattered: uniform in the field with a least distance between centres, by rejection
 * (simple sequential inhibition; Diggle, Statistical Analysis of Spatial Point Patterns, 1983). If there is no room
 * left, or the grid has fewer cells than elements, fewer come back; preflight warns of it. The target takes a drawn
 * position on the side asked for, or any if no element lies there.
 */
export function placeElements(
  array: Pick<ArrayItem, "arrangement" | "across" | "upright" | "distance" | "targetIn">,
  { count, w, h, element, present }: { count: number; w: number; h: number; element: number; present: boolean },
  stream: Stream,
): ArrayElement[] {
  const spots = arrangements[array.arrangement](array, { count, w, h, element }, stream);
  const suited = spots.flatMap((spot, index) => (sides[array.targetIn](spot) ? [index] : []));
  const choices = suited.length > 0 ? suited : spots.map((_, index) => index);
  const target = present && choices.length > 0 ? choices[stream.whole(0, choices.length - 1)] : -1;
  return spots.map(({ x, y }, index) => ({ x: hundredth(x), y: hundredth(y), isTarget: index === target }));
}

type Spot = { x: number; y: number };
type Field = { count: number; w: number; h: number; element: number };
const hundredth = (value: number) => Math.round(value * 100) / 100 + 0;

const sides: Record<ArrayItem["targetIn"], (spot: Spot) => boolean> = {
  anywhere: () => true,
  left: ({ x }) => x < 0,
  right: ({ x }) => x > 0,
  upper: ({ y }) => y > 0,
  lower: ({ y }) => y < 0,
};

const arrangements: Record<
  ArrayItem["arrangement"],
  (array: Pick<ArrayItem, "across" | "upright" | "distance">, field: Field, stream: Stream) => Spot[]
> = {
  ring: (_, { count, w, h, element }, stream) => {
    const first = stream.unit() * 2 * Math.PI;
    return Array.from({ length: count }, (__, index) => {
      const angle = first + (index / count) * 2 * Math.PI;
      return { x: ((w - element) / 2) * Math.cos(angle), y: ((h - element) / 2) * Math.sin(angle) };
    });
  },
  grid: ({ across, upright }, { count, w, h }, stream) => {
    const cells = Array.from({ length: across * upright }, (_, index): Spot => ({
      x: ((index % across) + 0.5) * (w / across) - w / 2,
      y: h / 2 - (Math.floor(index / across) + 0.5) * (h / upright),
    }));
    return shuffled(cells, stream).slice(0, count);
  },
  scattered: ({ distance }, { count, w, h, element }, stream) => {
    const spots: Spot[] = [];
    const [roomX, roomY] = [Math.max(0, w - element), Math.max(0, h - element)];
    for (let placed = 0; placed < count; placed++) {
      let found: Spot | null = null;
      for (let attempt = 0; attempt < mostTries && !found; attempt++) {
        const spot = { x: (stream.unit() - 0.5) * roomX, y: (stream.unit() - 0.5) * roomY };
        if (spots.every(({ x, y }) => Math.hypot(x - spot.x, y - spot.y) >= distance)) found = spot;
      }
      if (!found) break;
      spots.push(found);
    }
    return spots;
  },
};
