import { useId, useLayoutEffect, useRef, type ReactNode } from "react";
import type { Column as GridColumn } from "react-datasheet-grid";

type CellKind<Line> = {
  /** What the field is called for someone who hears it. */
  label: string;
  read: (line: Line) => string;
  write: (line: Line, text: string) => Line;
  /** How the cell looks while it is not typed into. */
  show: (text: string) => ReactNode;
  /** Texts to pick from while typing. */
  choices?: string[];
  /** Whether a colour can be picked beside typing it. */
  isColor?: boolean;
};

/** A column of the grid whose cells are typed into as text, and shown as `show` says otherwise. */
export function textCells<Line>({
  label,
  read,
  write,
  show,
  choices = [],
  isColor = false,
}: CellKind<Line>): Partial<GridColumn<Line, unknown, string>> {
  return {
    component: ({ rowData, setRowData, focus }) =>
      focus ? (
        <CellInput
          text={read(rowData)}
          label={label}
          choices={choices}
          isColor={isColor}
          onDone={(text) => setRowData(write(rowData, text))}
        />
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
function CellInput({
  text,
  label,
  onDone,
  choices,
  isColor,
}: {
  text: string;
  label: string;
  onDone: (text: string) => void;
  choices: string[];
  isColor: boolean;
}) {
  const list = useId();
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
    <>
      {isColor && (
        <input
          type="color"
          aria-label={`Pick a colour for ${label}`}
          tabIndex={-1}
          className="ml-1 h-5 w-6 shrink-0"
          defaultValue={/^#[0-9a-f]{6}$/i.test(text) ? text : "#000000"}
          onMouseDown={(event) => event.stopPropagation()}
          onChange={({ target }) => {
            typed.current = target.value;
            if (field.current) field.current.value = target.value;
          }}
        />
      )}
      {choices.length > 0 && (
        <datalist id={list}>
          {choices.map((choice) => (
            <option key={choice} value={choice} />
          ))}
        </datalist>
      )}
      <input
        ref={field}
        list={choices.length > 0 ? list : undefined}
        aria-label={label}
        defaultValue={text}
        className="dsg-input"
        tabIndex={-1}
        onChange={({ target }) => (typed.current = target.value)}
        onKeyDown={({ key }) => {
          if (key === "Escape") typed.current = null;
        }}
      />
    </>
  );
}
