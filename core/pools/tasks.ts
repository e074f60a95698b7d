import type { Block } from "../design/block";
import { hasOwnRow, type OwnRow } from "../values/draws";
import { isBinding, type Id } from "../values/ref";
import type { Column } from "../values/table";

/** A column that draws a row of a pool for each of its trials. */
export type Task = { block: Block; column: Column; own: OwnRow; waits: boolean };

export const drawsIn = ({ table }: Block): { column: Column; own: OwnRow }[] =>
  table.columns.flatMap((column) => (hasOwnRow(column.draws) ? [{ column, own: column.draws }] : []));

/** The column of the table whose draw gives a column its value: itself, or the one it takes its row with. */
function drawerOf({ table }: Block, id: Id): Id | null {
  const draws = table.columns.find((each) => each.id === id)?.draws;
  if (!draws) return null;
  return hasOwnRow(draws) ? id : draws.with;
}

/** What a column's draw waits for: columns of its table that its conditions look at, and all of the block it was shown in. */
function waitsFor(block: Block, { id }: Column, own: OwnRow): string[] {
  const columns = own.where.flatMap(({ to }) => {
    const drawer = isBinding(to) && "column" in to.from ? drawerOf(block, to.from.column) : null;
    return drawer === null || drawer === id ? [] : [`${block.id} ${drawer}`];
  });
  return own.before && own.before.block !== block.id ? [...columns, own.before.block] : columns;
}

/**
 * The draws of the blocks in groups: those of a group wait for none of each other. Draws that wait for one another in a circle
 * come last, which preflight finds.
 */
export function levelsOfTasks(blocks: readonly Block[]): Task[][] {
  const left = blocks.flatMap((block) =>
    drawsIn(block).map(({ column, own }) => ({
      task: { block, column, own, waits: false },
      key: `${block.id} ${column.id}`,
      waits: waitsFor(block, column, own),
    })),
  );
  const levels: Task[][] = [];
  for (let open = left; open.length > 0;) {
    const isOpen = (name: string) => open.some(({ key, task }) => key === name || task.block.id === name);
    const ready = open.filter(({ waits }) => !waits.some(isOpen));
    const now = ready.length > 0 ? ready : open;
    levels.push(now.map(({ task }) => ({ ...task, waits: levels.length > 0 })));
    open = open.filter((each) => !now.includes(each));
  }
  return levels;
}

/** Columns of a block whose draws wait for each other, so that none can come first. */
export function circlesIn(block: Block): Column[] {
  let open = drawsIn(block).map(({ column, own }) => ({
    column,
    key: `${block.id} ${column.id}`,
    waits: waitsFor(block, column, own).filter((name) => name.includes(" ")),
  }));
  for (;;) {
    const rest = open.filter(({ waits }) => waits.some((name) => open.some(({ key }) => key === name)));
    if (rest.length === open.length) return open.map(({ column }) => column);
    open = rest;
  }
}
