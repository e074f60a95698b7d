import { Columns3, Ellipsis, Images, Plus, Trash2 } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { DynamicDataSheetGrid, type DataSheetGridRef } from "react-datasheet-grid";
import "react-datasheet-grid/dist/style.css";
import { Button, IconButton } from "~/app/components/button";
import { download } from "~/app/components/download";
import { Menu, MenuItem, MenuLabel } from "~/app/components/menu";
import { newId } from "~/app/editing/new-id";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { together } from "~/core/design/edits/edit";
import { addColumn, addRows, removeRows } from "~/core/design/edits/table";
import { freeName } from "~/core/values/names";
import { namesInReach } from "~/core/design/names-in-reach";
import { tableAsSheet } from "~/core/design/table-import";
import type { TableHolder } from "~/core/values/pool";
import type { Column, Row } from "~/core/values/table";
import type { Id } from "~/core/values/ref";
import { FilesDialog } from "./files-dialog";
import { FindBar } from "./find-bar";
import { ImportDialog } from "./import-dialog";
import { changesBetween, lineMaker, type Line } from "./lines";
import { makeColumns } from "./sheet-columns";
import { sheetAsCsv, sheetAsExcel } from "./sheets";

type Asked = "files" | "import" | null;

type Props = {
  holder: TableHolder;
  group: Id;
  /** The row that is marked. */
  shownRow: Id | null;
  height: number;
  /** What is said of the table before its buttons, and further buttons. */
  summary: ReactNode;
  tools?: ReactNode;
  /** Whether rows have copies. */
  hasCopies?: boolean;
  onColumn: (column: Id) => void;
  onRow?: (row: Id) => void;
};

/** The spreadsheet of a table's rows, with what is done to it. What is typed that does not fit stays as typed and is marked. */
export function TableSheet({
  holder,
  group,
  shownRow,
  height,
  summary,
  tools,
  hasCopies = false,
  onColumn,
  onRow,
}: Props) {
  const { code, document, edit } = useStudy();
  const grid = useRef<DataSheetGridRef>(null);
  const [picked, setPicked] = useState<{ from: number; to: number } | null>(null);
  const [asked, setAsked] = useState<Asked>(null);
  const [dropped, setDropped] = useState<File[]>([]);
  const [isFinding, setIsFinding] = useState(false);
  const [hidden, setHidden] = useState<ReadonlySet<Id>>(() => hiddenColumns(code, holder.id));
  const [hasNotes, setHasNotes] = useState(holder.table.rows.some(({ note }) => note !== undefined));
  const { columns, rows } = holder.table;
  const [makeLines] = useState(lineMaker);
  const lines = useMemo(() => makeLines(document, holder, group), [makeLines, document, holder, group]);
  // The grid draws a row anew only when its data change, so which one the figure shows is part of them.
  const marked = useMemo(
    () => lines.map((line) => (line.id === shownRow ? { ...line, isShown: true } : line)),
    [lines, shownRow],
  );
  const change = (next: Line[]) => {
    const edits = changesBetween(document, holder, marked, next);
    if (edits.length > 0) edit(together(...edits));
  };
  // The grid is handed the same functions at every draw, so that a keystroke draws one row and not all.
  const latest = useRef({ change, rows, shownRow, onRow, onColumn });
  useEffect(() => {
    latest.current = { change, rows, shownRow, onRow, onColumn };
  });
  const shownColumns = useMemo(() => columns.filter(({ id }) => !hidden.has(id)), [columns, hidden]);
  const { media, groupValues } = document;
  const gridColumns = useMemo(
    () =>
      makeColumns(
        { media },
        shownColumns,
        mediaUrlIn(code, { media }),
        { copies: hasCopies, notes: hasNotes },
        (column) => latest.current.onColumn(column),
      ),
    // Group values are what filled columns show.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [media, groupValues, shownColumns, code, hasCopies, hasNotes],
  );

  const onChange = useCallback((next: Line[]) => latest.current.change(next), []);
  const onActiveCellChange = useCallback(({ cell }: { cell: { row: number } | null }) => {
    const row = cell ? latest.current.rows[cell.row]?.id : undefined;
    if (row && row !== latest.current.shownRow) latest.current.onRow?.(row);
  }, []);
  const onSelectionChange = useCallback(
    ({ selection }: { selection: { min: { row: number }; max: { row: number } } | null }) => {
      const count = latest.current.rows.length;
      const isSome = selection && (count === 1 || selection.max.row - selection.min.row < count - 1);
      setPicked(isSome ? { from: selection.min.row, to: selection.max.row } : null);
    },
    [],
  );
  const removePicked = () => {
    if (!picked) return;
    edit(
      removeRows(
        holder.id,
        rows.slice(picked.from, picked.to + 1).map(({ id }) => id),
      ),
    );
  };
  const newColumn = () => {
    const column: Column = {
      id: newId("column"),
      name: freeName("column", namesInReach(document, holder, null)),
      type: "text",
      factor: false,
    };
    edit(addColumn(holder.id, column));
    onColumn(column.id);
  };
  const save = async (as: "csv" | "xlsx") => {
    const sheet = tableAsSheet(document, holder);
    const name = `${code}-${holder.name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "-")}`;
    download(as === "csv" ? sheetAsCsv(sheet) : await sheetAsExcel(sheet), `${name}.${as}`);
  };

  return (
    <div
      className="flex h-full flex-col border-t border-hairline bg-sheet"
      onDragOver={(event) => {
        if (event.dataTransfer.types.includes("Files")) event.preventDefault();
      }}
      onDrop={(event) => {
        if (event.dataTransfer.files.length === 0) return;
        event.preventDefault();
        setDropped([...event.dataTransfer.files]);
        setAsked("files");
      }}
    >
      <div className="flex min-h-10 shrink-0 items-center gap-2 px-4 small:flex-wrap small:py-1.5">
        {summary}
        <span className="ml-auto" />
        {picked && picked.to < rows.length && (
          <Button icon={Trash2} look="quiet" ref={keepsSelection} onClick={removePicked}>
            {picked.from === picked.to
              ? `Remove row ${picked.from + 1}`
              : `Remove rows ${picked.from + 1}–${picked.to + 1}`}
          </Button>
        )}
        <Button icon={Plus} onClick={() => edit(addRows(holder.id, [emptyRow(rows.at(-1))], rows.length))}>
          <span className="tight:sr-only">Row</span>
        </Button>
        <Button icon={Columns3} onClick={newColumn}>
          <span className="tight:sr-only">Column</span>
        </Button>
        {tools}
        <IconButton icon={Images} look="plain" label="Rows from files" onClick={() => setAsked("files")} />
        <Menu align="end" trigger={<IconButton icon={Ellipsis} look="plain" label="More for the table" />}>
          <MenuItem onSelect={() => setIsFinding(true)}>Find and replace</MenuItem>
          <MenuItem onSelect={() => setAsked("import")}>Import a sheet (CSV, Excel, paste)</MenuItem>
          <MenuItem onSelect={() => void save("csv")}>Save as CSV</MenuItem>
          <MenuItem onSelect={() => void save("xlsx")}>Save as Excel sheet</MenuItem>
          <MenuItem onSelect={() => setHasNotes(!hasNotes)}>{hasNotes ? "Hide row notes" : "Show row notes"}</MenuItem>
          <MenuLabel>{hidden.size > 0 ? "Show or hide columns" : "Hide columns"}</MenuLabel>
          {columns.map(({ id, name }) => (
            <MenuItem
              key={id}
              onSelect={() => {
                const next = new Set(hidden);
                if (!next.delete(id)) next.add(id);
                setHidden(next);
                localStorage.setItem(hiddenKey(code, holder.id), JSON.stringify([...next]));
              }}
            >
              <span className="font-mono text-xs">
                {hidden.has(id) ? "show" : "hide"} {name}
              </span>
            </MenuItem>
          ))}
        </Menu>
      </div>
      {isFinding && (
        <FindBar
          holder={holder}
          goTo={(row, column) => {
            const at = shownColumns.findIndex(({ id }) => id === columns[column]?.id);
            if (at >= 0) grid.current?.setSelection({ min: { row, col: at + 1 }, max: { row, col: at + 1 } });
          }}
          onClose={() => setIsFinding(false)}
        />
      )}
      <div className="min-h-0 flex-1" data-trial-table>
        <DynamicDataSheetGrid<Line>
          ref={grid}
          value={marked}
          onChange={onChange}
          columns={gridColumns}
          rowHeight={27}
          headerRowHeight={28}
          height={height - 42 - (isFinding ? 42 : 0)}
          addRowsComponent={false}
          rowKey={rowKey}
          gutterColumn={gutter}
          createRow={createRow}
          duplicateRow={duplicateRow}
          rowClassName={rowClass}
          onSelectionChange={onSelectionChange}
          onActiveCellChange={onActiveCellChange}
        />
        {rows.length === 0 && (
          <p className="px-4 py-3 text-muted">The table is empty. Add a row, drop files here, or import a sheet.</p>
        )}
      </div>
      <FilesDialog
        holder={holder}
        open={asked === "files"}
        dropped={dropped}
        onOpenChange={(open) => {
          setAsked(open ? "files" : null);
          if (!open) setDropped([]);
        }}
      />
      <ImportDialog
        holder={holder}
        open={asked === "import"}
        onOpenChange={(open) => setAsked(open ? "import" : null)}
      />
    </div>
  );
}

/** The grid, which listens at the document, takes a press outside of it as the end of the selection: this button needs it. */
function keepsSelection(button: HTMLButtonElement | null) {
  const keep = (event: MouseEvent) => event.stopPropagation();
  button?.addEventListener("mousedown", keep);
  return () => button?.removeEventListener("mousedown", keep);
}

/** Which columns are hidden is kept on this computer: it is how one looks at a table, not part of the study. */
const hiddenKey = (code: string, block: Id) => `lapwing-hidden:${code}:${block}`;
function hiddenColumns(code: string, block: Id): Set<Id> {
  try {
    return new Set(JSON.parse(localStorage.getItem(hiddenKey(code, block)) ?? "[]") as Id[]);
  } catch {
    return new Set();
  }
}

const rowKey = ({ rowData }: { rowData: Line }) => rowData.id;
const rowClass = ({ rowData }: { rowData: Line }) => (rowData.isShown ? "dsg-row-shown" : undefined);
const gutter = {
  component: ({ rowIndex }: { rowIndex: number }) => <>{rowIndex + 1}</>,
  basis: 34,
  minWidth: 34,
};
const createRow = (): Line => ({ id: newId("row"), copies: "1", cells: {}, note: "" });
const duplicateRow = ({ rowData }: { rowData: Line }): Line => {
  return { ...rowData, id: newId("row"), isShown: false };
};

const emptyRow = (like?: Row): Row => ({ id: newId("row"), copies: like?.copies ?? 1, cells: {} });
