import { boundsOf, type Box } from "~/core/design/arrange";
import { measureOf } from "~/core/design/edits/placing";
import type { Id } from "~/core/values/ref";
import type { Item } from "~/core/items/registry";
import type { Scene } from "~/core/design/scene";
import { holds, resolveNumber } from "~/core/values/resolve";
import type { Context } from "~/core/values/context";

/** An item's box in the shown trial. A text's height is what its letters take up, so it is measured and given. */
export function boxOf(item: Item, context: Context, textHeight: number): Box | null {
  if (!("at" in item)) return null;
  const number = (name: "x" | "y" | "w" | "h" | "turned", otherwise: number) => {
    const value = measureOf(item, name);
    return value === undefined ? otherwise : (resolveNumber(value, context) ?? otherwise);
  };
  const h = !("size" in item) ? textHeight : number("h", 10);
  return { x: number("x", 0), y: number("y", 0), w: number("w", 10), h, turned: number("turned", 0) };
}

/** The boxes of a scene's items that are shown, from the back to the front. */
export function boxesOf(scene: Scene, context: Context, heights: ReadonlyMap<Id, number>): Map<Id, Box> {
  const boxes = new Map<Id, Box>();
  for (const item of scene.items) {
    const box = boxOf(item, context, heights.get(item.id) ?? 6);
    if (box && (item.when === undefined || holds(item.when, context))) boxes.set(item.id, box);
  }
  return boxes;
}

/** The frontmost box at a point; null where there is none. */
export function itemAt(boxes: ReadonlyMap<Id, Box>, x: number, y: number): Id | null {
  let found: Id | null = null;
  for (const [id, box] of boxes) {
    const angle = (box.turned * Math.PI) / 180;
    const [dx, dy] = [x - box.x, y - box.y];
    const localX = dx * Math.cos(angle) - dy * Math.sin(angle);
    const localY = dx * Math.sin(angle) + dy * Math.cos(angle);
    if (Math.abs(localX) <= Math.max(box.w, 1.5) / 2 && Math.abs(localY) <= Math.max(box.h, 1.5) / 2) found = id;
  }
  return found;
}

/** The items whose boxes a drawn rectangle touches. */
export function itemsWithin(
  boxes: ReadonlyMap<Id, Box>,
  a: { x: number; y: number },
  b: { x: number; y: number },
): Id[] {
  const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [bottom, top] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  return [...boxes].flatMap(([id, box]) => {
    const bounds = boundsOf(box);
    return bounds.right >= left && bounds.left <= right && bounds.top >= bottom && bounds.bottom <= top ? [id] : [];
  });
}
