import { useLayoutEffect, useRef, type ReactNode } from "react";
import type { Column as GridColumn } from "react-datasheet-grid";

type CellKind<Line> = {
  /** What the field is called for someone who hears it. */
  label: string;
  read: (line: Line) => string;
  write: (line: Line, text: string) => Line;
  /** How the cell looks while it is not typed into. */
  show: (text: string) => ReactNode;
};

/** A column of the grid whose cells are typed into as text, and shown as `show` says otherwise. */
export function textCells<Line>({
  label,
  read,
  write,
  show,
}: CellKind<Line>): Partial<GridColumn<Line, unknown, string>> {
  return {
    component: ({ rowData, setRowData, focus }) =>
      focus ? (
        <CellInput text={read(rowData)} label={label} onDone={(text) => setRowData(write(rowData, text))} />
      ) : (
        <span className="flex w-full items-center gap-2 truncate px-2.5">{show(read(rowData))}</span>
      ),
    copyValue: ({ rowData }) => read(rowData),
    pasteValue: ({ rowData, value }) => write(rowData, value.trim()),
    deleteValue: ({ rowData }) => write(rowData, ""),
    isCellEmpty: ({ rowData }) => read(rowData) === "",
  };
}

/** The field in a cell that is being typed into; hands on what was typed when it is left, unless by Escape. */
function CellInput({ text, label, onDone }: { text: string; label: string; onDone: (text: string) => void }) {
  const field = useRef<HTMLInputElement>(null);
  const typed = useRef<string | null>(null);
  const done = useRef(onDone);
  done.current = onDone;
  useLayoutEffect(() => {
    field.current?.focus();
    field.current?.select();
    return () => {
      if (typed.current !== null) done.current(typed.current);
      typed.current = null;
    };
  }, []);
  return (
    <input
      ref={field}
      aria-label={label}
      defaultValue={text}
      className="dsg-input"
      tabIndex={-1}
      onChange={({ target }) => (typed.current = target.value)}
      onKeyDown={({ key }) => {
        if (key === "Escape") typed.current = null;
      }}
    />
  );
}
