import { seedWith } from "../order/sittings";
import { plannedAssignment } from "../allocate/allocate";
import { compileBlock } from "../compile/compile";
import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { drawsIn } from "../pools/tasks";
import { contextFor, type RowContext } from "../values/context";
import { rowValues } from "../values/table";

/** Each row that is played, as the first participant of each group meets it; what is drawn from pools, as it is drawn for that one. */
export const rowContexts = (study: StudyDocument, block: Block): RowContext[] =>
  study.groups.flatMap(({ id: group }) => {
    const drawn = drawsIn(block).length > 0 ? drawnFor(study, block, group) : null;
    return block.table.rows.flatMap((row, index) => {
      if (row.copies === 0) return [];
      // A row that is left without something to show is found where pools are looked at.
      if (drawn && !drawn.has(row.id)) return [];
      const typed = rowValues(study, block.table, row, group);
      const values = drawn ? { ...typed, ...drawn.get(row.id) } : typed;
      return [
        {
          number: index + 1,
          row: row.id,
          context: contextFor({ study, group, participant: 1 }, { values, isPractice: block.practice }),
        },
      ];
    });
  });

/** What the first trial of each row has from pools, of those that lack nothing. */
function drawnFor(study: StudyDocument, block: Block, group: string): Map<string, RowContext["context"]["values"]> {
  const { orders } = plannedAssignment(study, 1);
  const trials = compileBlock(study, block, 1, seedWith(study, block.id), group, orders);
  const drawn = new Map<string, RowContext["context"]["values"]>();
  trials?.rows.forEach((row, index) => {
    const { fromPools } = trials.at(index);
    const isWhole = drawsIn(block).every(({ column }) => fromPools?.[column.id] !== null);
    if (isWhole && fromPools && !drawn.has(row)) drawn.set(row, { ...fromPools });
  });
  return drawn;
}
