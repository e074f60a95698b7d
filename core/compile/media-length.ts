import type { Item, Scene } from "../design/types";
import { resolve, resolveNumber, type Context } from "../run/resolve";

/** How long the longest sound or video of a scene plays, in milliseconds from the scene's onset; 0 where it has none that ends. */
export const mediaMs = (scene: Scene, context: Context): number =>
  Math.max(
    0,
    ...scene.items.map(
      (item) => (item.begins === undefined ? 0 : (resolveNumber(item.begins, context) ?? 0)) + lengthOf(item, context),
    ),
  );

function lengthOf(item: Item, context: Context): number {
  const ofFile = (id: unknown, startMs: number, stopMs: number | null) =>
    Math.max(0, (stopMs ?? context.document.media.find((file) => file.id === id)?.ms ?? 0) - startMs);
  if (item.kind === "video")
    return item.atEnd === "loop" ? 0 : ofFile(resolve(item.file, context), item.startMs, item.stopMs);
  if (item.kind !== "sound" || item.loop) return 0;
  const { source } = item;
  return source.from === "file"
    ? ofFile(resolve(source.file, context), source.startMs, source.stopMs)
    : (resolveNumber(source.ms, context) ?? 0);
}
