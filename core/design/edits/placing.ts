import { isFilled } from "../../values/table";
import { isBinding, type Bindable, type Id, type Scalar } from "../../values/ref";
import type { Block } from "../block";
import type { Item } from "../../items/registry";
import type { StudyDocument } from "../document";
import { inBlock } from "./block";
import type { Edit } from "./edit";
import { setCells } from "./table";

/** The measures of an item that can be changed on the stage. */
export type Measured = Partial<Record<"x" | "y" | "w" | "h" | "turned" | "fontSize", number>>;
export type MeasureName = keyof Measured;

/** The property behind a measure; undefined where the kind has none such. */
export function measureOf(item: Item, name: MeasureName): Bindable<number> | undefined {
  switch (name) {
    case "x":
    case "y":
      return "at" in item ? item.at[name] : undefined;
    case "turned":
      return "turned" in item ? item.turned : undefined;
    case "w":
      return "size" in item ? item.size.w : "width" in item ? item.width : undefined;
    case "h":
      return "size" in item ? item.size.h : undefined;
    case "fontSize":
      return "fontSize" in item ? item.fontSize : undefined;
  }
}

/** What placing changed, for telling it: a cell of the shown row, or something that cannot be changed from the stage. */
export type PlacingNote =
  { kind: "cell"; row: number; column: string; value: number } | { kind: "fixed"; measure: MeasureName; from: string };

/**
 * Sets measures of an item as they were changed on the stage. A constant is set; one bound to a typed column changes
 * the shown row's cell, so that the picture stays true; one bound to anything else stays, and the note says to what.
 */
export function placeItem(
  document: StudyDocument,
  block: Block,
  scene: Id,
  item: Item,
  change: Measured,
  row: Id | null,
): { edits: Edit[]; notes: PlacingNote[] } {
  const edits: Edit[] = [];
  const notes: PlacingNote[] = [];
  for (const [name, value] of Object.entries(change) as [MeasureName, number][]) {
    const property = measureOf(item, name);
    if (property === undefined) continue;
    if (!isBinding(property)) {
      if (property !== value) edits.push(setMeasure(block.id, scene, item.id, name, value));
      continue;
    }
    const { from } = property;
    const column = "column" in from ? block.table.columns.find(({ id }) => id === from.column) : undefined;
    const index = block.table.rows.findIndex(({ id }) => id === row);
    if (column && !isFilled(column) && index >= 0 && row !== null) {
      if (Number(block.table.rows[index]?.cells[column.id]) !== value)
        edits.push(setCells(block.id, [{ row, column: column.id, value }]));
      notes.push({ kind: "cell", row: index + 1, column: column.name, value });
    } else
      notes.push({
        kind: "fixed",
        measure: name,
        from:
          column?.name ??
          ("groupValue" in from
            ? (document.groupValues.find(({ id }) => id === from.groupValue)?.name ?? "a group value that is gone")
            : "builtIn" in from
              ? from.builtIn
              : "a name that is gone"),
      });
  }
  return { edits, notes };
}

const setMeasure = (block: Id, scene: Id, item: Id, name: MeasureName, value: Scalar & number): Edit =>
  inBlock(block, ({ scenes }) => {
    const found = scenes.find(({ id }) => id === scene)?.items.find(({ id }) => id === item);
    if (!found) return;
    if ((name === "x" || name === "y") && "at" in found) found.at[name] = value;
    else if (name === "turned" && "turned" in found) found.turned = value;
    else if (name === "w" && "width" in found) found.width = value;
    else if ((name === "w" || name === "h") && "size" in found) found.size[name] = value;
    else if (name === "fontSize" && "fontSize" in found) found.fontSize = value;
  });
