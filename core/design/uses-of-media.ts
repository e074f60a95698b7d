import { mediaOfColumn } from "./cells";
import { partsInOrder } from "./lookup";
import { questionsOf } from "./questions";
import { rulesNaming } from "./uses-of-rules";
import { questionKind } from "../questions/registry";
import { mediaOf } from "../items/item";
import type { Id } from "../values/ref";
import type { StudyDocument } from "./document";

/** Where a media file is used, in words: items that show or play it, and rows of tables that name it. */
export function usesOfMedia(document: StudyDocument, id: Id): string[] {
  const parts = partsInOrder(document).flatMap((part): string[] => {
    if (part.kind === "page") {
      const font = part.font === id ? [`${part.name}: font`] : [];
      const pieces = part.flow
        .filter((piece) => "file" in piece && piece.file === id)
        .map(({ kind }) => `${part.name}: ${kind}`);
      const options = questionsOf(part).flatMap((question) =>
        (questionKind(question.kind).files?.(question) ?? []).some(({ file }) => file === id)
          ? [`${part.name}: ${question.name}`]
          : [],
      );
      return [...font, ...pieces, ...options];
    }
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
  const pools = document.pools.flatMap(({ name, table }) => {
    const count = table.rows.filter(({ cells }) => Object.values(cells).includes(id)).length;
    return count > 0 ? [`${name}: ${count} ${count === 1 ? "row" : "rows"}`] : [];
  });
  return [...parts, ...pools, ...rulesNaming(document, id)];
}
