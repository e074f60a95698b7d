import type { Block } from "~/core/design/block";
import type { StudyDocument } from "~/core/design/document";
import type { OwnRow, SameRow } from "~/core/values/draws";
import type { Pool } from "~/core/values/pool";
import type { Column, ColumnType } from "~/core/values/table";
import { boats } from "./boats";

/** A pool with these columns, a line a row. */
export function poolOf(id: string, columns: Record<string, ColumnType>, lines: (string | number)[][]): Pool {
  const names = Object.keys(columns);
  return {
    id,
    name: `Pool ${id}`,
    table: {
      columns: names.map((name) => ({ id: name, name, type: columns[name]!, factor: false })),
      rows: lines.map((line, index) => ({
        id: `${id}-${index + 1}`,
        copies: 1,
        cells: Object.fromEntries(names.map((name, at) => [name, line[at] ?? null])),
      })),
    },
  };
}

/** Fish and birds, so many of each, their names with a length from 3 on. */
export const creatures = (each: number): Pool =>
  poolOf(
    "creatures",
    { creature: "text", kind: "text", length: "number" },
    ["fish", "bird"].flatMap((kind) =>
      Array.from({ length: each }, (_, at) => [`${kind}${at + 1}`, kind, 3 + (at % 5)]),
    ),
  );

export const drawn = (id: string, draws: OwnRow | SameRow, type: ColumnType = "text"): Column => ({
  id,
  name: id,
  type,
  factor: false,
  draws,
});
/** Draws the creature of a row of its own. */
export const own = (change: Partial<OwnRow> = {}): OwnRow => ({
  pool: "creatures",
  takes: { is: "value", column: "creature" },
  where: [],
  once: "block",
  ...change,
});

/** A study whose one block has so many rows of each kind, shuffled, and draws from creatures. */
export function drawing(
  { each = 4, inPool = 12, levels = ["only"] }: { each?: number; inPool?: number; levels?: string[] },
  change: (block: Block, document: StudyDocument) => void,
): StudyDocument {
  return boats((block, document) => {
    document.pools = [creatures(inPool)];
    block.table.columns.push(
      { id: "kind", name: "kind", type: "text", factor: true },
      { id: "level", name: "level", type: "text", factor: true },
    );
    block.table.rows = ["fish", "bird"].flatMap((kind) =>
      levels.flatMap((level) =>
        Array.from({ length: each }, (_, at) => ({
          id: `${kind}-${level}-${at}`,
          copies: 1,
          cells: { boat: at + 1, key: "f", kind, level },
        })),
      ),
    );
    block.order = { method: "shuffled", passes: 1, limits: [] };
    change(block, document);
  });
}

/** The same block once more, under another id, after the first. */
export function second(document: StudyDocument, block: Block, change: (block: Block) => void): Block {
  const copy = structuredClone(block);
  copy.id = `${block.id}-2`;
  copy.name = "Again";
  change(copy);
  document.parts[copy.id] = copy;
  const at = document.runningOrder.findIndex((node) => node.kind === "part" && node.part === block.id);
  document.runningOrder.splice(at + 1, 0, { kind: "part", part: copy.id });
  return copy;
}
