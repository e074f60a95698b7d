import { rowValues } from "../compile/values";
import type { Block, StudyDocument } from "../design/types";
import { emptyTally, type Context } from "../run/resolve";

export type RowContext = { number: number; row: string; context: Context };

/** Each row as the first participant of each group meets it. */
export const rowContexts = (document: StudyDocument, block: Block): RowContext[] =>
  document.groups.flatMap(({ id: group }) =>
    block.table.rows.flatMap((row, index) =>
      row.copies === 0
        ? []
        : [
            {
              number: index + 1,
              row: row.id,
              context: {
                document,
                group,
                participant: 1,
                values: rowValues(document, block, row, group),
                tally: emptyTally,
                placed: {},
              },
            },
          ],
    ),
  );
