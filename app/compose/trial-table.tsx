import { Columns3, Plus, Trash2 } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { DataSheetGrid, type Column as GridColumn, type DataSheetGridRef } from "react-datasheet-grid";
import "react-datasheet-grid/dist/style.css";
import { Button } from "~/app/components/button";
import { mediaUrlIn, newId, useStudy } from "~/app/editing/use-study";
import { cellValue } from "~/core/compile/values";
import { cellAsText, cellFromText, cellProblem } from "~/core/design/cells";
import { together, type Edit } from "~/core/design/edits/edit";
import { addColumn, addRows, removeRows, setCells, setCopies, type CellChange } from "~/core/design/edits/table";
import { freeName, namesInReach } from "~/core/design/names";
import type { Block, Column, Id, Row, StudyDocument } from "~/core/design/types";
import { textCells } from "./grid-cell";
import { keyLabel } from "~/core/describe/words";

/** A row as the grid edits it: every cell as text, by column id, and the copies. */
type Line = { id: Id; copies: string; cells: Record<Id, string>; isShown?: boolean };

/** Table 1: the spreadsheet of the block's rows. What is typed that does not fit stays as typed and is marked. */
export function TrialTable({
  block,
  group,
  shownRow,
  height,
}: {
  block: Block;
  group: Id;
  shownRow: Id | null;
  height: number;
}) {
  const { code, document, edit, look, view, setView } = useStudy();
  const grid = useRef<DataSheetGridRef>(null);
  const [picked, setPicked] = useState<{ from: number; to: number } | null>(null);
  const { columns, rows } = block.table;
  const lines = useMemo(() => rows.map((row) => asLine(document, block, row, group)), [document, block, rows, group]);
  // The grid draws a row anew only when its data change, so which one the figure shows is part of them.
  const marked = useMemo(
    () => lines.map((line) => (line.id === shownRow ? { ...line, isShown: true } : line)),
    [lines, shownRow],
  );
  const gridColumns = useMemo(
    () =>
      makeColumns(document, block, mediaUrlIn(code, document), (column) =>
        setView((before) => ({ ...before, selected: { kind: "column", column } })),
      ),
    [document, block, code, setView],
  );
  const trials = rows.reduce((sum, { copies }) => sum + copies, 0) * block.order.passes;
  const factors = columns.filter(({ factor }) => factor);
  const levels = factors
    .map((column) => `${column.name} (${new Set(rows.map(({ cells }) => cells[column.id] ?? "")).size})`)
    .join(" × ");

  const change = (next: Line[]) => {
    const edits = changesBetween(document, block, lines, next);
    if (edits.length > 0) edit(together(...edits));
  };
  const removePicked = () => {
    if (!picked) return;
    edit(
      removeRows(
        block.id,
        rows.slice(picked.from, picked.to + 1).map(({ id }) => id),
      ),
    );
    setPicked(null);
  };
  const newColumn = () => {
    const column: Column = {
      id: newId("column"),
      name: freeName("column", namesInReach(document, block, null)),
      type: "text",
      factor: false,
    };
    edit(addColumn(block.id, column));
    look({ selected: { kind: "column", column: column.id } });
  };

  return (
    <div className="flex h-full flex-col border-t border-hairline bg-sheet">
      <div className="flex h-10 shrink-0 items-center gap-2 px-4">
        <h2 className="caption min-w-0 truncate">
          <b>Table 1.</b> {rows.length} {rows.length === 1 ? "row" : "rows"}, {trials} trials <em>{levels}</em>
        </h2>
        <span className="ml-auto" />
        {picked && (
          <Button icon={Trash2} look="quiet" onClick={removePicked}>
            {picked.from === picked.to
              ? `Remove row ${picked.from + 1}`
              : `Remove rows ${picked.from + 1}–${picked.to + 1}`}
          </Button>
        )}
        <Button icon={Plus} onClick={() => edit(addRows(block.id, [emptyRow(rows.at(-1))], rows.length))}>
          Row
        </Button>
        <Button icon={Columns3} onClick={newColumn}>
          Column
        </Button>
      </div>
      <div className="min-h-0 flex-1" data-trial-table>
        <DataSheetGrid<Line>
          ref={grid}
          value={marked}
          onChange={change}
          columns={gridColumns}
          rowHeight={27}
          headerRowHeight={28}
          height={height - 42}
          addRowsComponent={false}
          rowKey={({ rowData }) => rowData.id}
          gutterColumn={{ component: ({ rowIndex }) => <>{rowIndex + 1}</>, basis: 30, minWidth: 30 }}
          createRow={() => asLine(document, block, emptyRow(), group)}
          duplicateRow={({ rowData }) => ({ ...rowData, id: newId("row") })}
          rowClassName={({ rowData }) => (rowData.isShown ? "dsg-row-shown" : undefined)}
          onSelectionChange={({ selection }) =>
            setPicked(
              selection && (rows.length === 1 || selection.max.row - selection.min.row < rows.length - 1)
                ? { from: selection.min.row, to: selection.max.row }
                : null,
            )
          }
          onActiveCellChange={({ cell }) => {
            const row = cell ? rows[cell.row]?.id : undefined;
            if (row && (row !== view.row || row !== shownRow)) look({ row });
          }}
        />
        {rows.length === 0 && (
          <p className="px-4 py-3 text-muted">
            The table is empty. Add a row, or paste rows from a spreadsheet program after adding the first.
          </p>
        )}
      </div>
    </div>
  );
}

const emptyRow = (like?: Row): Row => ({ id: newId("row"), copies: like?.copies ?? 1, cells: {} });

const asLine = (document: StudyDocument, block: Block, row: Row, group: Id): Line => ({
  id: row.id,
  copies: String(row.copies),
  cells: Object.fromEntries(
    block.table.columns.map((column) => [
      column.id,
      cellAsText(document, column, cellValue(document, row, column, group)),
    ]),
  ),
});

/** The edits that lead from the lines before to those after a change in the grid: cells, copies, rows in and out. */
function changesBetween(document: StudyDocument, block: Block, before: Line[], after: Line[]): Edit[] {
  const old = new Map(before.map((line) => [line.id, line]));
  const kept = new Set(after.map(({ id }) => id));
  const edits: Edit[] = [];
  const gone = before.filter(({ id }) => !kept.has(id)).map(({ id }) => id);
  if (gone.length > 0) edits.push(removeRows(block.id, gone));
  const cells: CellChange[] = [];
  const copies: { row: Id; copies: number }[] = [];
  after.forEach((line, index) => {
    const was = old.get(line.id);
    if (!was) edits.push(addRows(block.id, [{ id: line.id, copies: copiesFrom(line.copies) ?? 1, cells: {} }], index));
    for (const column of block.table.columns) {
      if (column.cases) continue;
      const text = line.cells[column.id] ?? "";
      if (text !== (was?.cells[column.id] ?? ""))
        cells.push({ row: line.id, column: column.id, value: cellFromText(document, column, text) });
    }
    const count = copiesFrom(line.copies);
    if (was && line.copies !== was.copies && count !== null) copies.push({ row: line.id, copies: count });
  });
  if (cells.length > 0) edits.push(setCells(block.id, cells));
  if (copies.length > 0) edits.push(setCopies(block.id, copies));
  return edits;
}

const copiesFrom = (text: string): number | null => (/^\d{1,4}$/.test(text.trim()) ? Number(text.trim()) : null);

function makeColumns(
  document: StudyDocument,
  block: Block,
  mediaUrl: (id: Id) => string | null,
  onHeader: (column: Id) => void,
): Partial<GridColumn<Line, unknown, string>>[] {
  const copies = textCells<Line>({
    label: "copies",
    read: (line) => line.copies,
    write: (line, text) => ({ ...line, copies: text }),
    show: (text) => text,
  });
  const cells = block.table.columns.map((column) => ({
    ...textCells<Line>({
      label: column.name,
      read: (line) => line.cells[column.id] ?? "",
      write: (line, text) => ({ ...line, cells: { ...line.cells, [column.id]: text } }),
      show: (text) => <ShownCell document={document} column={column} text={text} mediaUrl={mediaUrl} />,
    }),
    title: <ColumnHeader column={column} onSelect={() => onHeader(column.id)} />,
    basis: Math.max(
      column.type === "image" ? 170 : 100,
      30 + 7 * column.name.length + (column.factor || column.cases ? 56 : 0),
    ),
    grow: 0,
    minWidth: 90,
    disabled: column.cases !== undefined,
  }));
  return [{ ...copies, title: "copies", basis: 66, grow: 0, minWidth: 66 }, ...cells];
}

type ShownCellProps = {
  document: StudyDocument;
  column: Column;
  text: string;
  mediaUrl: (id: Id) => string | null;
};

/** A cell while it is not typed into: a picture with its thumbnail, a colour with a sample, what does not fit marked. */
function ShownCell({ document, column, text, mediaUrl }: ShownCellProps) {
  if (column.cases) return <span className="text-sheen">{keyLabel(text)}</span>;
  const problem = cellProblem(document, column, cellFromText(document, column, text));
  if (problem)
    return (
      <span className="truncate text-alarm underline decoration-wavy" title={problem}>
        {text}
      </span>
    );
  const media = column.type === "image" ? document.media.find(({ name }) => name === text) : undefined;
  const url = media ? mediaUrl(media.id) : null;
  return (
    <>
      {url && <img src={url} alt="" className="h-[18px] w-6 object-contain" />}
      {column.type === "color" && text && (
        <span aria-hidden="true" className="size-3 border border-hairline" style={{ background: text }} />
      )}
      {text}
    </>
  );
}

const ColumnHeader = ({ column, onSelect }: { column: Column; onSelect: () => void }) => (
  <button
    type="button"
    className="flex max-w-full items-center gap-1.5 truncate hover:text-plumage"
    title={`Settings of column ${column.name}`}
    onClick={onSelect}
    onMouseDown={(event) => event.stopPropagation()}
  >
    <span className="truncate">{column.name}</span>
    {column.factor && (
      <span className="rounded-[4px] bg-plumage-tint px-1 text-2xs font-normal text-plumage">factor</span>
    )}
    {column.cases && <span className="rounded-[4px] bg-sheen-tint px-1 text-2xs font-normal text-sheen">by cases</span>}
  </button>
);
