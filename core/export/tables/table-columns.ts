import { cellAsText } from "../../design/cells";
import type { Block } from "../../design/block";
import type { StudyDocument } from "../../design/document";
import { dataColumn } from "../../values/data-column";
import { rowValues } from "../../values/table";
import { cellsOf, joined, type TrialColumn } from "./trial-source";

/** The columns of the trial tables, one for each name. */
export function tableColumns(blocks: readonly { document: StudyDocument; block: Block }[]): TrialColumn[] {
  const names = [...new Set(blocks.flatMap(({ block }) => block.table.columns.map(({ name }) => name)))];
  return names.map((name) => {
    const having = blocks.flatMap(({ document, block: { table } }) =>
      table.columns.filter((each) => each.name === name).map((found) => ({ document, table, found })),
    );
    const isNumeric = having.every(({ found }) => found.type === "number");
    const seen = having.flatMap(({ document, table, found }) =>
      document.groups.flatMap(({ id }) =>
        table.rows.map((row) => cellAsText(document, found, rowValues(document, table, row, id)[found.id] ?? null)),
      ),
    );
    const isFactor = having.some(({ found }) => found.factor);
    return dataColumn(
      name,
      isNumeric ? "number" : "text",
      `${isFactor ? "Factor" : "Column"} of the trial table`,
      (source) => cellsOf(source).get(name) ?? null,
      { values: joined(seen.filter(Boolean)) },
    );
  });
}
