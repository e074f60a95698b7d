import type { ReactNode } from "react";

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
  <section
    aria-label="The figure in numbers"
    tabIndex={0}
    className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
  >
    <h2 className="caption">{title}</h2>
    <table className="mt-2 w-full text-left text-sm" data-numbers>
      <thead>
        <tr className="h-8 border-b border-ink text-xs text-muted">
          <th scope="col" className="font-semibold">
            {head}
          </th>
          {columns.map((name) => (
            <th key={name} scope="col" className="pl-3 text-right">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
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
      </tbody>
    </table>
    <p className="mt-3 text-sm text-muted">{children}</p>
  </section>
);
