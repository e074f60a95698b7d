import { mediaOfColumn } from "./cells";
import { partsInOrder } from "./lookup";
import { mediaOf } from "../items/item";
import type { Id } from "../values/ref";
import type { StudyDocument } from "./document";

/** Where a media file is used, in words: items that show or play it, and rows of tables that name it. */
export function usesOfMedia(document: StudyDocument, id: Id): string[] {
  return partsInOrder(document).flatMap((part): string[] => {
    if (part.kind !== "block") return [];
    const items = part.scenes.flatMap((scene) =>
      scene.items
        .filter((item) => mediaOf(item).some(({ value }) => value === id))
        .map((item) => `${part.name}, ${scene.name}: ${item.name}`),
    );
    const columns = part.table.columns
      .filter(({ type }) => Object.hasOwn(mediaOfColumn, type))
      .flatMap((column) => {
        const count = part.table.rows.filter(({ cells }) => cells[column.id] === id).length;
        return count > 0 ? [`${part.name}: ${column.name} in ${count} ${count === 1 ? "row" : "rows"}`] : [];
      });
    return [...items, ...columns];
  });
}
