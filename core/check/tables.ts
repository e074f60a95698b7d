import { isFilled } from "../values/table";
import { cellProblem } from "../design/cells";
import { blocksInOrder } from "../design/lookup";
import type { Check, Finding } from "./finding";

/** Empty tables and cells that do not fit their column. */
export const tableProblems: Check = (document) =>
  blocksInOrder(document).flatMap((block): Finding[] => {
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
    const findings: Finding[] = [];
    for (const column of block.table.columns) {
      if (isFilled(column)) continue;
      const bad = block.table.rows.flatMap((row, index) => {
        const problem = cellProblem(document, column, row.cells[column.id] ?? null);
        return problem ? [{ number: index + 1, row: row.id, problem }] : [];
      });
      const first = bad[0];
      if (!first) continue;
      const more = bad.length > 1 ? ` (and ${bad.length - 1} more ${bad.length === 2 ? "row" : "rows"})` : "";
      findings.push({
        level: "error",
        where: `${where}, row ${first.number}, column “${column.name}”`,
        message: `${first.problem}${more}`,
        target: { ...target, column: column.id, row: first.row },
      });
    }
    return findings;
  });
