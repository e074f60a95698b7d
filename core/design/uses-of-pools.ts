import { hasOwnRow } from "../values/draws";
import type { Id } from "../values/ref";
import type { Column } from "../values/table";
import type { Block } from "./block";
import type { StudyDocument } from "./document";
import { drawOf } from "./drawn-levels";
import { blocksInOrder } from "./lookup";

/** Which columns draw from a pool, in words. */
export const usesOfPool = (document: StudyDocument, pool: Id): string[] => drawing(document, pool, () => true);

/** Which columns take a pool’s column, or draw by it, in words. */
export const usesOfPoolColumn = (document: StudyDocument, pool: Id, column: Id): string[] =>
  drawing(document, pool, ({ draws }) => {
    const isTaken = draws?.takes.is === "value" && draws.takes.column === column;
    return isTaken || (hasOwnRow(draws) && draws.where.some((match) => match.column === column));
  });

/** What of a block’s draws names a column of its table, in words: it draws with it, or goes by its levels. */
export const usesInDraws = ({ table }: Block, column: Id): string[] =>
  table.columns.flatMap(({ id, name, draws }): string[] => {
    if (!draws || id === column) return [];
    if (!hasOwnRow(draws)) return draws.with === column ? [`column ${name}, which draws with it`] : [];
    const shown = draws.before?.shown;
    return [
      ...(draws.balanced === column ? [`the lists of column ${name}`] : []),
      ...(typeof shown === "object" && shown.column === column ? [`which rows of column ${name} are old`] : []),
    ];
  });

const drawing = (document: StudyDocument, pool: Id, uses: (column: Column) => boolean): string[] =>
  blocksInOrder(document).flatMap((block: Block) =>
    block.table.columns
      .filter((column) => drawOf(block, column)?.pool === pool && uses(column))
      .map(({ name }) => `column ${name} of ${block.name}`),
  );
