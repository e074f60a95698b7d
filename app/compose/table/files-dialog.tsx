import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { anyMedia } from "~/app/media/upload";
import { useUploads } from "~/app/media/use-uploads";
import { cellFromText, mediaOfColumn } from "~/core/design/cells";
import { together } from "~/core/design/edits/edit";
import { addMedia } from "~/core/design/edits/media";
import { extendTable } from "~/core/design/edits/table";
import { filePattern, guessedPattern } from "~/core/design/file-pattern";
import { mediaKind } from "~/core/media/types";
import { freeName } from "~/core/values/names";
import { namesInReach } from "~/core/design/names-in-reach";
import { guessedType } from "~/core/design/table-import";
import type { TableHolder } from "~/core/values/pool";
import { isFilled, type Column, type ColumnType, type Row } from "~/core/values/table";
import type { MediaFile } from "~/core/values/study-values";

/** Rows from files: each file becomes a row, and a pattern with named pieces fills columns from the file names. */
export function FilesDialog({
  holder,
  open,
  onOpenChange,
  dropped,
}: {
  holder: TableHolder;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  /** Files that were dropped on the table. */
  dropped: File[];
}) {
  const { code, document, edit } = useStudy();
  const picker = useRef<HTMLInputElement>(null);
  const { uploads, add, clear } = useUploads(code);
  const [typed, setTyped] = useState<string | null>(null);
  const [taken, setTaken] = useState<File[]>([]);
  if (open && dropped !== taken) {
    setTaken(dropped);
    if (dropped.length > 0) void add(dropped);
  }
  const files = uploads.flatMap(({ file, name }) => (file ? [{ ...file, name }] : []));
  const names = files.map(({ name }) => name);
  const pattern = typed ?? guessedPattern(names);
  const read = filePattern(pattern);
  const isBusy = uploads.some(({ state }) => state === "sending");
  const matched = files.map((file) => ({ file, pieces: read.ok ? read.pattern.match(file.name) : null }));
  const unmatched = matched.filter(({ pieces }) => pieces === null).length;
  const pieces = read.ok ? read.pattern.pieces : [];
  const [first] = files;
  const type: ColumnType =
    (Object.entries(mediaOfColumn).find(([, kind]) => first && kind === mediaKind(first.mime))?.[0] as ColumnType) ??
    "image";
  const forFiles = holder.table.columns.find((column) => column.type === type && !isFilled(column));
  const holderName = forFiles?.name ?? freeName(mediaOfColumn[type as "image"], namesInReach(document, holder, null));
  const close = (next: boolean) => {
    if (!next) {
      clear();
      setTyped(null);
    }
    onOpenChange(next);
  };
  const accept = () => {
    const reach = namesInReach(document, holder, null);
    const made: Column[] = [];
    const columnFor = (name: string, kind: ColumnType): Column => {
      const there = holder.table.columns.find(
        (each) => each.name.toLowerCase() === name.toLowerCase() && !isFilled(each),
      );
      if (there) return there;
      const column = { id: newId("column"), name: freeName(name, reach), type: kind, factor: false };
      reach.push(column.name);
      made.push(column);
      return column;
    };
    const media = forFiles ?? columnFor(holderName, type);
    const columns = pieces.map((piece) =>
      columnFor(
        piece,
        guessedType(
          document,
          matched.map((each) => each.pieces?.[piece] ?? ""),
        ),
      ),
    );
    const ids = new Map<string, MediaFile>();
    const added = files.filter(({ sha256 }) => !document.media.some((each) => each.sha256 === sha256));
    for (const file of [...document.media, ...added]) if (!ids.has(file.sha256)) ids.set(file.sha256, file);
    const rows = matched.map(({ file, pieces: found }): Row => {
      const cells: Row["cells"] = { [media.id]: ids.get(file.sha256)?.id ?? file.id };
      columns.forEach((column, index) => {
        const value = cellFromText(document, column, found?.[pieces[index] ?? ""] ?? "");
        if (value !== null) cells[column.id] = value;
      });
      return { id: newId("row"), copies: 1, cells };
    });
    edit(together(...added.map(addMedia), extendTable(holder.id, made, rows)));
    close(false);
  };
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={close}
      title="Rows from files"
      description="Each file becomes a row. Pieces of the file names, named in braces, fill columns."
    >
      <div
        className="grid justify-items-center gap-2 rounded-md border border-dashed border-hairline p-4"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          void add([...event.dataTransfer.files]);
        }}
      >
        <Button icon={FileUp} onClick={() => picker.current?.click()}>
          Choose files
        </Button>
        <span className="text-sm text-muted">or drop them here: pictures, sounds or videos</span>
        <input
          ref={picker}
          type="file"
          multiple
          accept={anyMedia}
          aria-label="Files for rows"
          tabIndex={-1}
          className="sr-only"
          onChange={(event) => {
            void add([...(event.target.files ?? [])]);
            event.target.value = "";
          }}
        />
        {uploads.length > 0 && (
          <p role="status" className="text-sm">
            {files.length} of {uploads.length} files are here
            {uploads.some(({ state }) => state === "refused") && (
              <span className="text-alarm">
                {" "}
                · {uploads.flatMap(({ reason }) => (reason ? [reason] : [])).join(" ")}
              </span>
            )}
          </p>
        )}
      </div>
      {files.length > 0 && (
        <>
          <label className="grid gap-1 text-sm">
            <span className="font-semibold">Pattern of the file names</span>
            <input
              className="field font-mono"
              value={pattern}
              onChange={({ target }) => setTyped(target.value)}
              aria-invalid={read.ok ? undefined : true}
            />
            <span className={read.ok && unmatched === 0 ? "text-muted" : "text-chestnut"}>
              {!read.ok
                ? read.reason
                : unmatched > 0
                  ? `${unmatched} of ${files.length} file names do not fit; their rows get the file alone.`
                  : "All file names fit."}
            </span>
          </label>
          <div className="max-h-[30vh] overflow-auto border border-hairline">
            <table className="w-full border-collapse font-mono text-xs" data-files-preview>
              <thead>
                <tr className="bg-paper text-left">
                  {[holderName, ...pieces].map((name) => (
                    <th key={name} scope="col" className="px-2.5 py-1 font-sans font-semibold">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {matched.slice(0, 40).map(({ file, pieces: found }) => (
                  <tr key={file.id} className="border-t border-hairline">
                    <td className="px-2.5 py-1">{file.name}</td>
                    {pieces.map((piece) => (
                      <td key={piece} className={`px-2.5 py-1 ${found ? "" : "text-chestnut"}`}>
                        {found?.[piece] ?? "does not fit"}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      <div className="flex justify-end">
        <Button look="primary" disabled={files.length === 0 || isBusy || !read.ok} onClick={accept}>
          {files.length === 0 ? "Add rows" : `Add ${files.length} ${files.length === 1 ? "row" : "rows"}`}
        </Button>
      </div>
    </Dialog>
  );
}
