import type { ReactNode } from "react";
import { ResultTable } from "./result-table";

/** A number as it is written, and half the width of its interval. */
export type NumberCell = { says: string; half?: string | null };

/** The numbers of a figure beside it: a row a place, a column a condition. */
export const NumberTable = ({
  title,
  head,
  columns,
  rows,
  children,
}: {
  title: ReactNode;
  /** What the first column holds. */
  head: string;
  columns: readonly string[];
  rows: readonly { name: string; cells: readonly NumberCell[] }[];
  /** How the numbers were made. */
  children: ReactNode;
}) => (
  <ResultTable
    name="the figure"
    title={title}
    head={[{ says: head }, ...columns.map((says) => ({ says, isNumber: true }))]}
    note={children}
  >
    {rows.map(({ name, cells }) => (
      <tr key={name} className="h-[28px] border-b border-hairline last:border-b-0">
        <td className="font-mono text-xs">{name}</td>
        {cells.map(({ says, half }, at) => (
          <td key={at} className="whitespace-nowrap pl-3 text-right font-mono text-xs">
            {says}
            {half && <span className="text-muted"> ± {half}</span>}
          </td>
        ))}
      </tr>
    ))}
  </ResultTable>
);
