import type { ReactNode } from "react";

/** A number from 0 to 1 as journals write it. */
export const inJournalStyle = (p: number): string => (p < 0.001 ? "< .001" : p.toFixed(3).replace(/^0/, ""));

/** A table of what was worked out, with what has to be known of it below. */
export const ResultTable = ({
  name,
  title,
  head,
  note,
  children,
}: {
  name: string;
  title: ReactNode;
  head: readonly { says: ReactNode; isNumber?: boolean }[];
  note: ReactNode;
  children: ReactNode;
}) => (
  <section
    aria-label={`Table of ${name}`}
    tabIndex={0}
    className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
  >
    <h2 className="caption">{title}</h2>
    <table className="mt-2 w-full text-left text-sm" data-numbers={name}>
      <thead>
        <tr className="h-8 border-b border-ink text-xs text-muted">
          {head.map(({ says, isNumber }, index) => (
            <th key={index} scope="col" className={isNumber ? "pl-3 text-right" : "pr-3 font-semibold"}>
              {says}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
    <p className="mt-3 text-sm text-muted">{note}</p>
  </section>
);

const withMinus = (cell: string) => cell.replace(/(^|\s)-(?=\d)/g, "$1−");

/** A row of it: words, then numbers. */
export const ResultRow = ({ cells, numbersFrom }: { cells: readonly string[]; numbersFrom: number }) => (
  <tr className="h-[30px] border-b border-hairline last:border-b-0">
    {cells.map((cell, index) => (
      <td key={index} className={index < numbersFrom ? "pr-3" : "whitespace-nowrap pl-3 text-right font-mono text-xs"}>
        {index < numbersFrom ? cell : withMinus(cell)}
      </td>
    ))}
  </tr>
);
