import { isFilled, type TrialTable } from "../values/table";
import { cellProblem } from "../design/cells";
import type { StudyDocument } from "../design/document";
import { blocksInOrder } from "../design/lookup";
import type { Check, Finding, FindingTarget } from "./finding";

/** Empty tables and cells that do not fit their column. */
export const tableProblems: Check = (document) => [
  ...document.pools.flatMap(({ id, name, table }) => unfitCells(document, table, `pool “${name}”`, { pool: id })),
  ...blocksInOrder(document).flatMap((block): Finding[] => {
    const where = `block “${block.name}”`;
    const target = { part: block.id };
    if (block.table.rows.every(({ copies }) => copies === 0))
      return [
        {
          level: "error",
          where,
          message:
            block.table.rows.length === 0
              ? "Its trial table is empty. Add a row."
              : "Every row has 0 copies, so no trial is played. Set copies to 1 or more.",
          target,
        },
      ];
    return unfitCells(document, block.table, where, target);
  }),
];

/** The first cell of each column that does not fit it, with how many more there are. */
const unfitCells = (
  document: StudyDocument,
  { columns, rows }: TrialTable,
  where: string,
  target: FindingTarget,
): Finding[] =>
  columns.flatMap((column): Finding[] => {
    if (isFilled(column)) return [];
    const bad = rows.flatMap((row, index) => {
      const problem = cellProblem(document, column, row.cells[column.id] ?? null);
      return problem ? [{ number: index + 1, row: row.id, problem }] : [];
    });
    const [first] = bad;
    if (!first) return [];
    const more = bad.length > 1 ? ` (and ${bad.length - 1} more ${bad.length === 2 ? "row" : "rows"})` : "";
    return [
      {
        level: "error",
        where: `${where}, row ${first.number}, column “${column.name}”`,
        message: `${first.problem}${more}`,
        target: { ...target, column: column.id, row: first.row },
      },
    ];
  });
