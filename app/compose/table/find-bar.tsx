import { isFilled } from "~/core/values/table";
import { ChevronDown, ChevronUp, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { Button, IconButton } from "~/app/components/button";
import { Tick } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { cellAsText, cellFromText } from "~/core/design/cells";
import { replacedText, setCells, type CellChange, type Search } from "~/core/design/edits/table";
import type { TableHolder } from "~/core/values/pool";

/**
 * Finds texts in the table's cells and replaces them. `goTo` scrolls a cell into view, by its row and column in the
 * grid.
 */
export function FindBar({
  holder,
  goTo,
  onClose,
}: {
  holder: TableHolder;
  goTo: (row: number, column: number) => void;
  onClose: () => void;
}) {
  const { document, edit } = useStudy();
  const [search, setSearch] = useState<Search>({ find: "", matchCase: false, wholeCell: false });
  const [replacement, setReplacement] = useState("");
  const [at, setAt] = useState(-1);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const { columns, rows } = holder.table;
  const found = rows.flatMap((row, rowAt) =>
    columns.flatMap((column, columnAt) => {
      if (isFilled(column)) return [];
      const text = replacedText(cellAsText(document, column, row.cells[column.id] ?? null), search, replacement);
      return text === null ? [] : [{ row, column, rowAt, columnAt, text }];
    }),
  );
  const step = (by: 1 | -1) => {
    if (found.length === 0) return;
    const next = (at + by + found.length) % found.length;
    setAt(next);
    const cell = found[next];
    if (cell) goTo(cell.rowAt, cell.columnAt);
  };
  const change = (cells: typeof found) =>
    edit(
      setCells(
        holder.id,
        cells.map(({ row, column, text }): CellChange => ({
          row: row.id,
          column: column.id,
          value: cellFromText(document, column, text),
        })),
      ),
    );
  const toggle = (name: "matchCase" | "wholeCell", words: string) => (
    <Tick
      className="whitespace-nowrap"
      checked={search[name]}
      onChange={(checked) => setSearch({ ...search, [name]: checked })}
    >
      {words}
    </Tick>
  );
  return (
    <div
      role="search"
      className="flex flex-wrap items-center gap-2 border-b border-hairline px-4 py-1.5"
      onKeyDown={(event) => {
        if (event.key === "Escape") onClose();
      }}
    >
      <input
        ref={field}
        aria-label="Find"
        placeholder="find"
        className="field !w-36 font-mono"
        value={search.find}
        onChange={({ target }) => {
          setSearch({ ...search, find: target.value });
          setAt(-1);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") step(event.shiftKey ? -1 : 1);
        }}
      />
      <input
        aria-label="Replace with"
        placeholder="replace by"
        className="field !w-36 font-mono"
        value={replacement}
        onChange={({ target }) => setReplacement(target.value)}
      />
      {toggle("matchCase", "same case")}
      {toggle("wholeCell", "whole cell")}
      <span role="status" className="whitespace-nowrap text-sm text-muted">
        {search.find === "" ? "" : `${found.length} found`}
      </span>
      <span className="ml-auto flex items-center gap-1">
        <IconButton icon={ChevronUp} label="Previous match" disabled={found.length === 0} onClick={() => step(-1)} />
        <IconButton icon={ChevronDown} label="Next match" disabled={found.length === 0} onClick={() => step(1)} />
        <Button
          disabled={!found[Math.max(0, at)]}
          onClick={() => change(found.slice(Math.max(0, at), Math.max(0, at) + 1))}
        >
          Replace
        </Button>
        <Button disabled={found.length === 0} onClick={() => change(found)}>
          Replace all
        </Button>
        <IconButton icon={X} label="Close find and replace" onClick={onClose} />
      </span>
    </div>
  );
}
