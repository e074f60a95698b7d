import { createColumnHelper, getCoreRowModel, useReactTable } from "@tanstack/react-table";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { askServer } from "~/app/ask-server";
import type { Cell } from "~/core/values/data-column";
import type { RecordColumn } from "~/server/results/records";

type Row = readonly Cell[] | null;
export type Sorting = { column: string; isFalling: boolean } | null;

const rowHeight = 27;
/** Browsers show no page that is higher than some ten million pixels. */
const mostShown = 500_000;
const helper = createColumnHelper<Row>();

/**
 * Rows of a table that may be very long: those in sight are there, a page at a time as they come into sight. Headers sort:
 * rising, falling, as they are.
 */
export function RowsTable({
  address,
  header,
  columns,
  first,
  perPage,
  total,
  sort,
  onSort,
}: {
  /** Where pages are asked for; their number is added. */
  address: string;
  header: readonly string[];
  columns: readonly RecordColumn[];
  first: readonly (readonly Cell[])[];
  perPage: number;
  total: number;
  sort: Sorting;
  onSort: (sort: Sorting) => void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const count = Math.min(total, mostShown);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 15,
    initialRect: { width: 1000, height: 600 },
  });
  // Other rows begin at their beginning.
  useEffect(() => void scroller.current?.scrollTo({ top: 0 }), [address]);
  const inSight = virtual.getVirtualItems();
  const [from, to] = [inSight[0]?.index ?? 0, (inSight.at(-1)?.index ?? -1) + 1];
  const { rows, problem } = useRows({ address, first, perPage, from, to });

  const byName = useMemo(() => new Map(columns.map((column) => [column.name, column])), [columns]);
  const defined = useMemo(
    () => header.map((name, at) => helper.accessor((row) => row?.[at] ?? null, { id: name, header: name })),
    [header],
  );
  const table = useReactTable({
    data: rows,
    columns: defined,
    getCoreRowModel: getCoreRowModel(),
    manualSorting: true,
    autoResetAll: false,
  });
  const isNumber = (name: string) => /number/.test(byName.get(name)?.type ?? "");
  const next = (name: string): Sorting =>
    sort?.column !== name
      ? { column: name, isFalling: false }
      : sort.isFalling
        ? null
        : { column: name, isFalling: true };
  const below = (count - to) * rowHeight;
  return (
    <>
      {problem && (
        <p role="alert" className="pb-1 text-sm text-alarm">
          {problem}
        </p>
      )}
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto rounded-md border border-hairline bg-sheet"
        tabIndex={0}
        role="region"
        aria-label="Records"
      >
        <table className="w-max min-w-full border-collapse text-xs" aria-rowcount={total + 1}>
          <thead className="sticky top-0 z-10 bg-sheet">
            {table.getHeaderGroups().map(({ id, headers }) => (
              <tr key={id} className="h-8" aria-rowindex={1}>
                {headers.map(({ id: name }) => {
                  const isSorted = sort?.column === name;
                  return (
                    <th
                      key={name}
                      scope="col"
                      aria-sort={isSorted ? (sort.isFalling ? "descending" : "ascending") : "none"}
                      className={`border-b border-ink px-2 ${isNumber(name) ? "text-right" : "text-left"}`}
                    >
                      <button
                        type="button"
                        title={byName.get(name)?.meaning}
                        onClick={() => onSort(next(name))}
                        className={`inline-flex items-center gap-1 font-mono font-semibold ${isSorted ? "text-ink" : "text-muted hover:text-ink"}`}
                      >
                        {name}
                        {isSorted &&
                          (sort.isFalling ? (
                            <ArrowDown size={12} aria-hidden="true" />
                          ) : (
                            <ArrowUp size={12} aria-hidden="true" />
                          ))}
                      </button>
                    </th>
                  );
                })}
              </tr>
            ))}
          </thead>
          <tbody>
            {from > 0 && <tr aria-hidden="true" style={{ height: from * rowHeight }} />}
            {table.getRowModel().rows.map((row) => (
              <tr
                key={from + row.index}
                aria-rowindex={from + row.index + 2}
                className="h-[27px] border-b border-hairline"
              >
                {row.getVisibleCells().map((cell) => (
                  <td
                    key={cell.id}
                    className={`max-w-[420px] overflow-hidden text-ellipsis whitespace-nowrap px-2 font-mono ${isNumber(cell.column.id) ? "text-right" : ""}`}
                  >
                    {row.original === null ? (
                      <span aria-hidden="true" className="text-muted">
                        …
                      </span>
                    ) : (
                      (cell.getValue() as Cell)
                    )}
                  </td>
                ))}
              </tr>
            ))}
            {below > 0 && <tr aria-hidden="true" style={{ height: below }} />}
          </tbody>
        </table>
      </div>
      {total > mostShown && (
        <p className="pt-1 text-xs text-muted">
          The first {mostShown.toLocaleString("en")} are shown; a condition brings the others.
        </p>
      )}
    </>
  );
}

/** What came of the pages of an address. */
type Pages = { of: string; pages: ReadonlyMap<number, readonly (readonly Cell[])[]>; problem: string | null };

/** The rows from one place to another (not included), asked for a page at a time when they come into sight. */
function useRows({
  address,
  first,
  perPage,
  from,
  to,
}: {
  address: string;
  first: readonly (readonly Cell[])[];
  perPage: number;
  from: number;
  to: number;
}) {
  const [kept, setKept] = useState<Pages>({ of: address, pages: new Map(), problem: null });
  const asked = useRef<{ of: string; pages: Set<number> }>({ of: address, pages: new Set() });
  const [firstPage, lastPage] = [Math.floor(from / perPage) + 1, Math.floor(Math.max(from, to - 1) / perPage) + 1];
  useEffect(() => {
    for (let page = firstPage; page <= lastPage; page++) {
      if (asked.current.of !== address) asked.current = { of: address, pages: new Set() };
      const { pages } = asked.current;
      if (page === 1 || pages.has(page)) continue;
      pages.add(page);
      void askServer<{ rows: Cell[][] }>(`${address}&page=${page}`).then((answer) => {
        // Other rows are looked at by now.
        if (asked.current.of !== address) return;
        // What could not be had is asked for again when it comes into sight the next time.
        if (!answer.ok) pages.delete(page);
        setKept((before) => {
          const known = before.of === address ? before.pages : new Map<number, readonly (readonly Cell[])[]>();
          return {
            of: address,
            pages: answer.ok ? new Map(known).set(page, answer.data.rows) : known,
            problem: answer.ok ? null : answer.reason,
          };
        });
      });
    }
  }, [address, firstPage, lastPage]);
  const { pages, problem } = kept.of === address ? kept : { pages: null, problem: null };
  const rows = useMemo(
    () =>
      Array.from({ length: Math.max(0, to - from) }, (_, at): Row => {
        const page = Math.floor((from + at) / perPage) + 1;
        return (page === 1 ? first : pages?.get(page))?.[(from + at) % perPage] ?? null;
      }),
    [from, to, perPage, first, pages],
  );
  return { rows, problem };
}
