import type { Block } from "../design/block";
import type { StudyDocument } from "../design/document";
import { contextFor, type RowContext } from "../values/context";
import { rowValues } from "../values/table";

/** Each row that is played, as the first participant of each group meets it. */
export const rowContexts = (study: StudyDocument, { table, practice }: Block): RowContext[] =>
  study.groups.flatMap(({ id: group }) =>
    table.rows.flatMap((row, index) => {
      if (row.copies === 0) return [];
      const values = rowValues(study, table, row, group);
      return [
        {
          number: index + 1,
          row: row.id,
          context: contextFor({ study, group, participant: 1 }, { values, isPractice: practice }),
        },
      ];
    }),
  );
