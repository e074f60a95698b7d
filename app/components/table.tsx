import type { Cell } from "~/core/values/data-column";

/** Rows as they will be exported: header in mono, numbers to the right, empty cells empty. */
export function RecordTable({ header, rows, empty }: { header: string[]; rows: Cell[][]; empty: string }) {
  if (rows.length === 0) return <p className="p-4 text-muted">{empty}</p>;
  const numeric = header.map((_, index) => rows.some((row) => typeof row[index] === "number"));
  return (
    <table className="w-max min-w-full border-collapse text-xs">
      <thead className="sticky top-0 bg-sheet">
        <tr className="h-7">
          {header.map((name, index) => (
            <th
              key={name}
              scope="col"
              className={`border-b border-hairline px-2 font-mono font-semibold text-muted ${numeric[index] ? "text-right" : "text-left"}`}
            >
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr key={index} className="h-[27px] border-b border-hairline">
            {row.map((cell, at) => (
              <td key={header[at]} className={`whitespace-nowrap px-2 font-mono ${numeric[at] ? "text-right" : ""}`}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
