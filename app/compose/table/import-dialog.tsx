import { FileUp } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { columnTypes } from "../column-settings";
import { tableImport, type ImportMode } from "~/core/design/table-import";
import type { TableHolder } from "~/core/values/pool";
import { sheetFromFile, sheetFromText } from "./sheets";

const typeInWords = Object.fromEntries(columnTypes);

/** Brings a CSV or Excel file, or a pasted piece, into the table, and shows what it changes before it does. */
export function ImportDialog({
  holder,
  open,
  onOpenChange,
}: {
  holder: TableHolder;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const { document, edit } = useStudy();
  const picker = useRef<HTMLInputElement>(null);
  const [sheet, setSheet] = useState<string[][]>([]);
  const [mode, setMode] = useState<ImportMode>("replace");
  const [problem, setProblem] = useState<string | null>(null);
  const plan = useMemo(
    () => (open && sheet.length > 1 ? tableImport(document, holder, sheet, mode, newId) : null),
    [open, document, holder, sheet, mode],
  );
  const close = (next: boolean) => {
    if (!next) {
      setSheet([]);
      setProblem(null);
    }
    onOpenChange(next);
  };
  const read = (text: string) => {
    setSheet(sheetFromText(text));
    setProblem(null);
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      setSheet(await sheetFromFile(file));
      setProblem(null);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : "The file could not be read.");
    }
  };
  const told = plan && [
    plan.rowsAdded > 0 && `${plan.rowsAdded} ${plan.rowsAdded === 1 ? "row is" : "rows are"} added`,
    plan.rowsRemoved > 0 && `${plan.rowsRemoved} ${plan.rowsRemoved === 1 ? "row goes" : "rows go"}`,
    plan.cellsChanged > 0 && `${plan.cellsChanged} ${plan.cellsChanged === 1 ? "cell changes" : "cells change"}`,
    plan.newColumns.length > 0 &&
      `new ${plan.newColumns.length === 1 ? "column" : "columns"} ${plan.newColumns.map(({ name, type }) => `${name} (${typeInWords[type]})`).join(", ")}`,
    plan.renamed.length > 0 && plan.renamed.map(({ from, to }) => `“${from}” becomes ${to}`).join(", "),
    plan.untouched.length > 0 && `not in the sheet: ${plan.untouched.join(", ")}`,
  ];
  return (
    <Dialog
      wide
      open={open}
      onOpenChange={close}
      title="Import a sheet"
      description="Its first row names the columns; those the table has are matched by name. A column called copies sets copies."
    >
      <div className="flex items-center gap-3">
        <Button icon={FileUp} onClick={() => picker.current?.click()}>
          Choose a CSV or Excel file
        </Button>
        <span className="text-sm text-muted">or paste below</span>
        <input
          ref={picker}
          type="file"
          tabIndex={-1}
          className="sr-only"
          aria-label="CSV or Excel file"
          accept=".csv,.tsv,.txt,.xlsx,text/csv"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </div>
      <textarea
        aria-label="Or paste from a spreadsheet program"
        rows={3}
        className="field !h-auto py-1 font-mono text-xs"
        placeholder="Paste here what you copied in a spreadsheet program, with its header"
        onChange={({ target }) => read(target.value)}
        onPaste={(event) => {
          const field = event.currentTarget;
          const text = event.clipboardData.getData("text/plain");
          // By themselves browsers take many seconds for thousands of lines.
          if (field.selectionEnd - field.selectionStart < field.value.length) return;
          event.preventDefault();
          field.value = text;
          read(text);
        }}
      />
      {problem && <p className="text-alarm">{problem}</p>}
      {sheet.length > 1 && (
        <>
          <fieldset className="flex gap-5 text-sm">
            <legend className="sr-only">What happens to the rows there now</legend>
            {(
              [
                ["replace", "the sheet's rows replace them"],
                ["append", "the sheet's rows are added at the end"],
              ] as const
            ).map(([value, words]) => (
              <label key={value} className="flex items-center gap-2">
                <input
                  type="radio"
                  name="import-mode"
                  className="accent-(--plumage)"
                  checked={mode === value}
                  onChange={() => setMode(value)}
                />
                {words}
              </label>
            ))}
          </fieldset>
          <div className="max-h-[30vh] overflow-auto border border-hairline">
            <table className="w-full border-collapse font-mono text-xs">
              <tbody>
                {sheet.slice(0, 9).map((row, index) => (
                  <tr
                    key={index}
                    className={index === 0 ? "bg-paper font-sans font-semibold" : "border-t border-hairline"}
                  >
                    {row.map((cell, column) => (
                      <td key={column} className="whitespace-nowrap px-2.5 py-1">
                        {cell}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      <div className="flex items-center justify-between gap-4 border-t border-hairline pt-3">
        <p role="status" className={plan && plan.rowsRemoved > 0 ? "text-chestnut" : ""}>
          {told
            ? `${sheet.length - 1} rows read: ${told.filter(Boolean).join("; ") || "nothing changes"}.`
            : "Choose a file or paste."}
        </p>
        <Button
          look="primary"
          disabled={!plan}
          onClick={() => {
            if (plan) edit(plan.edit);
            close(false);
          }}
        >
          Import it
        </Button>
      </div>
    </Dialog>
  );
}
