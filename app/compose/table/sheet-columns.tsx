import { Play } from "lucide-react";
import type { Column as GridColumn } from "react-datasheet-grid";
import { cellFromText, cellProblem, mediaOfColumn } from "~/core/design/cells";
import type { StudyDocument } from "~/core/design/document";
import { keyLabel } from "~/core/devices/keys/keys";
import { mediaKind } from "~/core/media/types";
import type { Id } from "~/core/values/ref";
import { isFilled, type Column } from "~/core/values/table";
import { textCells } from "./grid-cell";
import type { Line } from "./lines";

type Known = Pick<StudyDocument, "media">;

/** The columns of a sheet as the grid draws and edits them. */
export function makeColumns(
  document: Known,
  columns: Column[],
  mediaUrl: (id: Id) => string | null,
  has: { copies: boolean; notes: boolean },
  onHeader: (column: Id) => void,
): Partial<GridColumn<Line, unknown, string>>[] {
  const copies = textCells<Line>({
    label: "copies",
    read: (line) => line.copies,
    write: (line, text) => ({ ...line, copies: text }),
    show: (text) => text,
  });
  const cells = columns.map((column) => ({
    ...textCells<Line>({
      label: column.name,
      read: (line) => line.cells[column.id] ?? "",
      write: (line, text) => ({ ...line, cells: { ...line.cells, [column.id]: text } }),
      show: (text) => <ShownCell document={document} column={column} text={text} mediaUrl={mediaUrl} />,
      choices: choicesFor(document, column),
      isColor: column.type === "color",
    }),
    title: <ColumnHeader column={column} onSelect={() => onHeader(column.id)} />,
    basis: Math.max(
      Object.hasOwn(mediaOfColumn, column.type) ? 170 : 100,
      30 + 7 * column.name.length + (column.factor || isFilled(column) ? 56 : 0),
    ),
    grow: 0,
    minWidth: 90,
    disabled: isFilled(column),
  }));
  const note = textCells<Line>({
    label: "note",
    read: (line) => line.note,
    write: (line, text) => ({ ...line, note: text }),
    show: (text) => <span className="truncate text-muted italic">{text}</span>,
  });
  return [
    ...(has.copies ? [{ ...copies, title: "copies", basis: 66, grow: 0, minWidth: 66 }] : []),
    ...cells,
    ...(has.notes ? [{ ...note, title: "note", basis: 180, grow: 0, minWidth: 120 }] : []),
  ];
}

/** What a column's cells are picked from; none where anything can be typed. */
function choicesFor({ media }: Known, column: Column): string[] {
  if (column.type === "yes-no") return ["yes", "no"];
  if (!Object.hasOwn(mediaOfColumn, column.type)) return [];
  const kind = mediaOfColumn[column.type as keyof typeof mediaOfColumn];
  return media.filter(({ mime }) => mediaKind(mime) === kind).map(({ name }) => name);
}

type ShownCellProps = {
  document: Known;
  column: Column;
  text: string;
  mediaUrl: (id: Id) => string | null;
};

/** A cell while it is not typed into: a picture with its thumbnail, a sound to listen to, a colour with a sample, what does not fit marked. */
function ShownCell({ document, column, text, mediaUrl }: ShownCellProps) {
  if (column.follows) return <span className="text-sheen">follows</span>;
  if (column.draws) return <span className="text-sheen">drawn</span>;
  if (isFilled(column)) return <span className="text-sheen">{column.letters ? text : keyLabel(text)}</span>;
  const problem = cellProblem(document, column, cellFromText(document, column, text));
  if (problem)
    return (
      <span className="truncate text-alarm underline decoration-wavy" title={problem}>
        {text}
      </span>
    );
  const file = Object.hasOwn(mediaOfColumn, column.type) ? document.media.find(({ name }) => name === text) : undefined;
  const url = file ? mediaUrl(file.id) : null;
  return (
    <>
      {url && column.type === "image" && (
        <img
          src={url}
          alt=""
          loading="lazy"
          className="h-[18px] w-6 object-contain"
          onError={({ currentTarget }) => {
            currentTarget.alt = "unreadable";
            currentTarget.title = "This file cannot be read. Replace it in Media.";
          }}
        />
      )}
      {url && column.type === "sound" && (
        <button
          type="button"
          aria-label={`Listen to ${text}`}
          title={`Listen to ${text}`}
          onMouseDown={(event) => event.stopPropagation()}
          onClick={() => void new Audio(url).play()}
        >
          <Play size={13} aria-hidden="true" />
        </button>
      )}
      {url && column.type === "video" && (
        <video src={`${url}#t=0.1`} muted preload="metadata" className="h-[18px] w-6" />
      )}
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
    {isFilled(column) && (
      <span className="rounded-[4px] bg-sheen-tint px-1 text-2xs font-normal text-sheen">
        {column.follows
          ? column.follows.by.method
          : column.draws
            ? "from a pool"
            : column.letters
              ? "letters replaced"
              : "by cases"}
      </span>
    )}
  </button>
);
