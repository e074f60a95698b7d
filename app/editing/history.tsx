import { useEffect, useState } from "react";
import { toast } from "sonner";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { differencesInWords } from "~/core/describe/differences";
import type { StudyDocument } from "~/core/design/document";
import type { HistoryPoint } from "~/server/history";
import { useStudy } from "./use-study";

async function ask<T>(path: string, body?: unknown): Promise<T | null> {
  const response = await fetch(
    path,
    body === undefined
      ? {}
      : { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) },
  ).catch(() => null);
  return response?.ok ? ((await response.json()) as T) : null;
}

/** The study's history: points in time and named versions, what changed in words, and the way back to any of them. */
export function History({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { code, document, editor, edit } = useStudy();
  const [points, setPoints] = useState<HistoryPoint[] | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [documents, setDocuments] = useState<ReadonlyMap<number, StudyDocument | null>>(new Map());
  const [against, setAgainst] = useState<"before" | "now">("before");

  useEffect(() => {
    if (!open) return;
    let isCurrent = true;
    setDocuments(new Map());
    void editor.saveNow().then(async () => {
      const found = await ask<HistoryPoint[]>(`/studies/${code}/history`);
      if (!isCurrent) return;
      setPoints(found ?? []);
      setChosen(found?.[0]?.revision ?? null);
      if (!found) toast.error("The history could not be read. Try again when the server is back.");
    });
    return () => {
      isCurrent = false;
    };
  }, [open, code, editor]);

  const index = points?.findIndex(({ revision }) => revision === chosen) ?? -1;
  const point = points?.[index];
  const previous = points?.[index + 1];
  const wanted = [point?.revision, previous?.revision].filter((revision) => revision !== undefined);
  const missing = wanted.find((revision) => !documents.has(revision));
  useEffect(() => {
    if (missing === undefined) return;
    let isCurrent = true;
    void ask<{ document: StudyDocument }>(`/studies/${code}/edits?at=${missing}`).then((found) => {
      if (isCurrent) setDocuments((before) => new Map([...before, [missing, found?.document ?? null]]));
    });
    return () => {
      isCurrent = false;
    };
  }, [missing, code]);

  const was = point ? documents.get(point.revision) : undefined;
  const before = previous ? documents.get(previous.revision) : undefined;
  const changes = !was
    ? null
    : against === "now"
      ? differencesInWords(was, document)
      : before
        ? differencesInWords(before, was)
        : null;
  const name = async (revision: number, text: string) =>
    setPoints((await ask<HistoryPoint[]>(`/studies/${code}/history`, { revision, name: text })) ?? points);
  const restore = () => {
    if (!was || !point) return;
    edit((draft) => {
      for (const key of Object.keys(draft)) delete (draft as Record<string, unknown>)[key];
      Object.assign(draft, was);
    });
    onOpenChange(false);
    toast("The study is as it was then. Undo brings back what it was before.");
  };

  return (
    <Dialog
      wide
      open={open}
      onOpenChange={onOpenChange}
      title="History"
      description="Every point in time is kept; a name makes one easy to find. Going back is a new edit, so nothing is lost."
    >
      <div className="grid min-h-[300px] grid-cols-[280px_1fr] gap-5">
        <ul
          aria-label="Points in time, newest first"
          className="max-h-[46vh] overflow-y-auto border-r border-hairline pr-2"
        >
          {points === null && <li className="text-muted">Reading…</li>}
          {points?.map(({ revision, savedAt, name: called, saves }) => (
            <li key={revision}>
              <button
                type="button"
                aria-pressed={revision === chosen}
                onClick={() => setChosen(revision)}
                className={`grid w-full rounded-md px-2 py-1.5 text-left ${revision === chosen ? "bg-plumage-tint" : "hover:bg-plumage-tint"}`}
              >
                <span className={called ? "font-semibold" : ""}>{called ?? <When iso={savedAt} form="moment" />}</span>
                <span className="text-xs text-muted">
                  {called && (
                    <>
                      <When iso={savedAt} form="moment" /> ·{" "}
                    </>
                  )}
                  {saves} {saves === 1 ? "save" : "saves"}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {point && (
          <div className="grid content-start gap-3">
            <label className="grid gap-1 text-sm">
              <span className="font-semibold">Name of this version</span>
              <input
                key={point.revision}
                className="field"
                defaultValue={point.name ?? ""}
                maxLength={80}
                placeholder="For example: as piloted"
                onBlur={({ target }) => {
                  if (target.value !== (point.name ?? "")) void name(point.revision, target.value);
                }}
                onKeyDown={(event) => {
                  if (event.key === "Enter") event.currentTarget.blur();
                }}
              />
            </label>
            <div role="group" aria-label="What to compare with" className="flex gap-1">
              {(
                [
                  ["before", "What changed up to it"],
                  ["now", "What changed since"],
                ] as const
              ).map(([value, words]) => (
                <button
                  key={value}
                  type="button"
                  aria-pressed={against === value}
                  onClick={() => setAgainst(value)}
                  className={`rounded-md px-2 py-1 text-sm ${against === value ? "bg-plumage-tint font-semibold text-plumage" : "text-muted hover:text-ink"}`}
                >
                  {words}
                </button>
              ))}
            </div>
            <ul className="max-h-[30vh] list-disc overflow-y-auto pl-5" data-changes>
              {was === null && <li>This version cannot be restored: it was saved in an older format.</li>}
              {changes?.map((each) => (
                <li key={each}>{each}</li>
              ))}
              {changes?.length === 0 && <li>Nothing.</li>}
              {was && !previous && against === "before" && <li>The study began with it.</li>}
            </ul>
            <div>
              <Button look="primary" disabled={!was} onClick={restore}>
                Go back to this version
              </Button>
            </div>
          </div>
        )}
      </div>
    </Dialog>
  );
}
