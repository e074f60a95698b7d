import { ArrowDown, ArrowUp } from "lucide-react";
import { IconButton } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { isFilled, cellValue } from "~/core/values/table";
import { cellAsText } from "~/core/design/cells";
import { keyLabel } from "~/core/devices/keys/keys";
import type { Block } from "~/core/design/block";
import type { Id } from "~/core/values/ref";

/** The shown row of Table 1 with its neighbours, while a scene is opened above it. */
export function RowsNear({
  block,
  group,
  row,
  onStep,
}: {
  block: Block;
  group: Id;
  row: Id | null;
  onStep: (by: 1 | -1) => void;
}) {
  const { document, look } = useStudy();
  const { columns, rows } = block.table;
  const at = Math.max(
    0,
    rows.findIndex(({ id }) => id === row),
  );
  const from = Math.max(0, Math.min(at - 1, rows.length - 3));
  const shown = rows.slice(from, from + 3);
  return (
    <div className="border-t border-hairline bg-sheet">
      <div className="flex h-9 items-center gap-1 px-4 text-sm text-muted">
        <h2 className="caption mr-auto text-ink">
          <b>Table 1.</b>{" "}
          <em>
            rows {from + 1} to {from + shown.length} of {rows.length}
          </em>
        </h2>
        <IconButton icon={ArrowUp} label="Previous row (Page Up)" onClick={() => onStep(-1)} />
        <IconButton icon={ArrowDown} label="Next row (Page Down)" onClick={() => onStep(1)} />
        other rows
      </div>
      <table className="w-full table-fixed border-collapse font-mono text-xs">
        <colgroup>
          <col className="w-10" />
        </colgroup>
        <thead>
          <tr className="h-6 text-left font-sans text-2xs text-muted">
            <th scope="col">
              <span className="sr-only">row</span>
            </th>
            {columns.map(({ id, name }) => (
              <th key={id} scope="col" className="border-l border-hairline px-2.5 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((each, index) => (
            <tr
              key={each.id}
              aria-current={each.id === row ? "true" : undefined}
              onClick={() => look({ row: each.id })}
              className={`h-[26px] cursor-default border-t border-hairline ${each.id === row ? "bg-plumage-tint" : ""}`}
            >
              <td className="w-10 px-3 text-right text-muted">{from + index + 1}</td>
              {columns.map((column) => (
                <td
                  key={column.id}
                  title={column.name}
                  className={`truncate border-l border-hairline px-2.5 ${isFilled(column) ? "text-sheen" : ""}`}
                >
                  {column.draws
                    ? "drawn"
                    : isFilled(column)
                      ? keyLabel(cellAsText(document, column, cellValue(document, each, column, group)))
                      : cellAsText(document, column, cellValue(document, each, column, group))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
