import { isFilled } from "~/core/values/table";
import { Popover } from "radix-ui";
import { useDeferredValue, useMemo } from "react";
import { useStudy } from "~/app/editing/use-study";
import { cellAsText } from "~/core/design/cells";
import { combinationCounts } from "~/core/order/crossing";
import type { Block } from "~/core/design/block";
import { trialsInBlock } from "~/core/design/lookup";

/** What the table comes to: rows, trials, factors, and whether every combination is played equally often. */
export function TableSummary({ block }: { block: Block }) {
  const { document } = useStudy();
  const { rows } = block.table;
  const trials = trialsInBlock(block);
  // Counting thousands of rows waits until no key is to be shown.
  const settled = useDeferredValue(block);
  const { factors, counts, levels, isBalanced } = useMemo(() => {
    const factors = settled.table.columns.filter((column) => column.factor && !isFilled(column));
    const counts = combinationCounts(
      settled.table.rows,
      factors.map(({ id }) => id),
      settled.order.passes,
    );
    return {
      factors,
      counts,
      levels: factors.map(
        ({ name }, index) => `${new Set(counts.map(({ values }) => values[index] ?? "")).size} ${name}`,
      ),
      isBalanced: new Set(counts.map(({ trials }) => trials)).size <= 1,
    };
  }, [settled]);
  return (
    <h2 className="caption flex min-w-0 items-baseline gap-1.5">
      <span className="line-clamp-2">
        <b>Table 1.</b> {rows.length} {rows.length === 1 ? "row" : "rows"}, {trials} {trials === 1 ? "trial" : "trials"}{" "}
        <em>{levels.join(" × ")}</em>
      </span>
      {factors.length > 0 && counts.length > 0 && (
        <Popover.Root>
          <Popover.Trigger
            className={`shrink-0 font-sans text-sm font-semibold underline ${isBalanced ? "text-plumage" : "text-chestnut"}`}
          >
            {isBalanced ? "balanced" : "not balanced"}
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="start"
              sideOffset={6}
              className="z-50 max-h-[50vh] overflow-auto rounded-md border border-hairline bg-sheet p-3 text-ink"
            >
              <table className="text-sm">
                <caption className="pb-1 text-left font-semibold">Trials of each combination</caption>
                <thead>
                  <tr className="text-left text-xs text-muted">
                    {factors.map(({ id, name }) => (
                      <th key={id} scope="col" className="pr-4 font-normal">
                        {name}
                      </th>
                    ))}
                    <th scope="col" className="text-right font-normal">
                      trials
                    </th>
                  </tr>
                </thead>
                <tbody className="font-mono text-xs">
                  {counts.slice(0, 200).map(({ values, trials: each }) => (
                    <tr key={JSON.stringify(values)} className="border-t border-hairline">
                      {factors.map((column, index) => (
                        <td key={column.id} className="py-0.5 pr-4">
                          {cellAsText(document, column, values[index] ?? null) || "empty"}
                        </td>
                      ))}
                      <td className="text-right">{each}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      )}
    </h2>
  );
}
