import { FileUp, Plus, Search, Trash2 } from "lucide-react";
import { useEffect, useRef, useState, type DragEvent } from "react";
import { data, redirect, useFetcher } from "react-router";
import * as yup from "yup";
import { requireAccount } from "~/app/account.server";
import { requireStudy } from "~/app/study-access.server";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { Field } from "~/app/components/field";
import { AccountMenu, Strip } from "~/app/components/strip";
import { readForm } from "~/app/form.server";
import { StudyRow } from "~/app/studies/study-row";
import { withFile } from "~/server/http/receive";
import { importStudyFile } from "~/server/study-file";
import { deleteStudy } from "~/server/forgetting";
import { setLabels } from "~/server/labels";
import { noteDeed } from "~/server/study-log";
import { createStudy, duplicateStudy, setBinned } from "~/server/studies";
import { foundInDesigns, listStudies, type StudyLine } from "~/server/study-list";
import { starters } from "~/core/design/starters/registry";
import { actionOrAway, unlessAway } from "~/app/when-away";
import type { Route } from "./+types/studies";

export const meta = () => [{ title: "Studies · Lapwing" }];

/** The studies of whoever asks; with `find` only where in their designs that is written, by the studies' codes. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const account = await requireAccount(request, context);
  const find = (new URL(request.url).searchParams.get("find") ?? "").slice(0, 100);
  if (find !== "")
    return { name: account.name, studies: [], written: await foundInDesigns(context.store, account.id, find) };
  return { name: account.name, studies: await listStudies(context.store, account.id), written: {} };
}

const newSchema = yup.object({
  title: yup.string().trim().required("Give the study a title.").max(200, "A title has at most 200 characters."),
  starter: yup.string(),
});

export async function action({ request, context }: Route.ActionArgs) {
  const account = await requireAccount(request, context);
  const intent = new URL(request.url).searchParams.get("do");
  const code = new URL(request.url).searchParams.get("code") ?? undefined;
  if (intent === "new") {
    const form = await readForm(request, newSchema);
    if (!form.ok) return data({ mistakes: [], problem: form.problems.title ?? null }, { status: 400 });
    const study = await createStudy(context.store, account.id, form.values.title, form.values.starter);
    return redirect(`/studies/${study.code}/compose`);
  }
  if (intent === "import") {
    const imported = await withFile(request, context.store.media, ({ path }) =>
      importStudyFile(context.store, account.id, path),
    );
    if (!imported)
      return data(
        { mistakes: ["Choose a file ending in .lapwing.json or .lapwing.zip."], problem: null },
        { status: 400 },
      );
    return imported.ok
      ? redirect(`/studies/${imported.study.code}/plan`)
      : data({ mistakes: imported.mistakes, problem: null }, { status: 422 });
  }
  if (intent === "duplicate") {
    await duplicateStudy(context.store, account.id, await requireStudy(request, context, code, "see-design"));
    return { mistakes: [], problem: null };
  }
  if (intent === "labels") {
    const study = await requireStudy(request, context, code, "change-design");
    const form = await readForm(request, yup.object({ labels: yup.string().default("").max(2000) }));
    const problem = form.ok
      ? await setLabels(context.store, study.id, form.values.labels.split(","))
      : "Too many labels.";
    return problem === null ? { mistakes: [], problem: null } : data({ mistakes: [], problem }, { status: 400 });
  }
  const study = await requireStudy(request, context, code, "end-study");
  if (intent === "bin" || intent === "restore") {
    await setBinned(context.store, study.id, intent === "bin");
    const what = intent === "bin" ? "The study was moved to the bin." : "The study was taken out of the bin.";
    await noteDeed(context.store.db, { code: study.code, by: study.by, what, kind: "study" });
  }
  if (intent === "delete") {
    const form = await readForm(request, yup.object({ title: yup.string().required("Type the study’s title.") }));
    const isTitle = form.ok && form.values.title.trim() === study.document.title.trim();
    if (!isTitle)
      return data({ mistakes: [], problem: "This is not the study’s title, so nothing was deleted." }, { status: 400 });
    const deleted = await deleteStudy(context.store, study, { by: study.by });
    if (!deleted.ok) return data({ mistakes: [], problem: deleted.reason }, { status: 409 });
  }
  return { mistakes: [], problem: null };
}

export const clientAction = actionOrAway;
export const shouldRevalidate = unlessAway;

type Filter = "all" | StudyLine["work"] | "bin";

export default function Studies({ loaderData }: Route.ComponentProps) {
  const [filter, setFilter] = useState<Filter>("all");
  const [sought, setSought] = useState("");
  const [isNew, setIsNew] = useState(false);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const importing = useFetcher<typeof action>();
  const creating = useFetcher<typeof action>();
  const { studies, name } = loaderData;
  const designs = useFetcher<typeof loader>();
  const [label, setLabel] = useState("");
  const labels = [...new Set(studies.flatMap((study) => study.labels))].toSorted();
  const wanted = sought.trim();
  const askDesigns = designs.load;
  useEffect(() => {
    if (wanted.length < 2) return;
    const soon = setTimeout(() => void askDesigns(`/studies?find=${encodeURIComponent(wanted)}`), 250);
    return () => clearTimeout(soon);
  }, [wanted, askDesigns]);
  const written: Record<string, string> = wanted.length < 2 ? {} : (designs.data?.written ?? {});
  const there = studies.filter(({ binnedAt }) => binnedAt === null);
  const binned = studies.length - there.length;
  const shown = (
    filter === "bin"
      ? studies.filter(({ binnedAt }) => binnedAt !== null)
      : there.filter(({ work }) => filter === "all" || work === filter)
  )
    .filter((study) => label === "" || study.labels.includes(label))
    .filter(
      ({ title, code, owner, labels: own }) =>
        `${title} ${code} ${owner} ${own.join(" ")}`.toLowerCase().includes(wanted.toLowerCase()) ||
        written[code] !== undefined,
    );
  const mine = there.filter(({ roles }) => roles.includes("owner")).length;
  const take = (file: File | undefined) => {
    if (!file) return;
    const body = new FormData();
    body.set("file", file);
    // Data of another installation are looked at before they are taken in.
    const action = file.name.endsWith(".lapwing-data.zip") ? "/take-in" : "/studies?do=import";
    void importing.submit(body, { method: "post", action, encType: "multipart/form-data" });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files[0]);
  };
  const count = (work: StudyLine["work"]) => there.filter((study) => study.work === work).length;
  const mistakes = importing.data?.mistakes ?? [];

  return (
    <div
      className="min-h-dvh"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Strip beside={<span className="font-serif text-[18px]">Lapwing</span>}>
        <AccountMenu name={name} />
      </Strip>
      <main className="mx-auto max-w-[1112px] px-4 pb-10 pt-6">
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <h1 className="font-serif text-[30px] leading-9">Studies</h1>
          <p className="pb-0.5 text-muted">
            {mine} of yours{there.length > mine && `, ${there.length - mine} shared with you`}, newest work first
          </p>
          <div className="ml-auto flex gap-2">
            <label className="relative">
              <Search size={16} aria-hidden="true" className="absolute left-2.5 top-1.5 text-muted" />
              <input
                type="search"
                aria-label="Search studies"
                placeholder="title, person, label, words in it"
                value={sought}
                onChange={(event) => setSought(event.target.value)}
                className="field !w-[230px] !pl-8"
              />
            </label>
            <input
              ref={picker}
              type="file"
              accept=".json,.zip"
              aria-label="Study file"
              tabIndex={-1}
              className="sr-only"
              onChange={(event) => {
                take(event.target.files?.[0]);
                event.target.value = "";
              }}
            />
            <Button icon={FileUp} disabled={importing.state !== "idle"} onClick={() => picker.current?.click()}>
              <span aria-live="polite">{importing.state === "idle" ? "From a file" : "Reading the file…"}</span>
            </Button>
            <Button icon={Plus} look="primary" onClick={() => setIsNew(true)}>
              New study
            </Button>
          </div>
        </div>
        <div className="mt-4 flex items-center gap-1" role="group" aria-label="Which studies">
          {(
            [
              ["all", "all"],
              ["drafting", `drafting ${count("drafting")}`],
              ["collecting", `collecting ${count("collecting")}`],
              ["closed", `closed ${count("closed")}`],
            ] as const
          ).map(([value, words]) => (
            <FilterButton key={value} on={filter === value} onClick={() => setFilter(value)}>
              {words}
            </FilterButton>
          ))}
          {labels.length > 0 && (
            <select
              aria-label="With the label"
              className="field ml-2 !h-6 !w-[150px] !py-0"
              value={labels.includes(label) ? label : ""}
              onChange={({ target }) => setLabel(target.value)}
            >
              <option value="">any label</option>
              {labels.map((each) => (
                <option key={each} value={each}>
                  {each}
                </option>
              ))}
            </select>
          )}
          <span className="ml-auto">
            <FilterButton on={filter === "bin"} onClick={() => setFilter(filter === "bin" ? "all" : "bin")}>
              <Trash2 size={14} aria-hidden="true" className="mr-1 inline" />
              bin, {binned}
            </FilterButton>
          </span>
        </div>
        {mistakes.length > 0 && (
          <section role="alert" className="mt-2 rounded-md border border-alarm bg-sheet p-4">
            <h2 className="font-semibold text-alarm">The file was not imported. Nothing was added.</h2>
            <ul className="mt-1 list-disc pl-5">
              {mistakes.map((mistake) => (
                <li key={mistake}>{mistake}</li>
              ))}
            </ul>
          </section>
        )}
        <div className={`mt-2 overflow-x-auto border bg-sheet ${over ? "border-plumage" : "border-hairline"}`}>
          <table className="w-full border-collapse text-left">
            <thead>
              <tr className="h-8 border-b border-hairline text-xs font-semibold text-muted">
                {["study", "work", "design", "finished sessions", "last 14 days", "last edit"].map((head) => (
                  <th key={head} scope="col" className="px-3.5 font-semibold">
                    {head}
                  </th>
                ))}
                <th scope="col">
                  <span className="sr-only">actions</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((study) => (
                <StudyRow key={study.code} study={study} written={written[study.code]} />
              ))}
            </tbody>
          </table>
          {shown.length === 0 && <p className="p-6 text-muted">{emptyWords(filter, sought, there.length)}</p>}
        </div>
        <p className="mt-3 text-sm text-muted">
          A study file (.lapwing.json or .lapwing.zip), or a study with its data from another installation
          (.lapwing-data.zip), can also be dropped anywhere on this page.
        </p>
      </main>
      <Dialog
        open={isNew}
        onOpenChange={setIsNew}
        title="New study"
        description="Every starting point is a complete study that runs at once; change whatever you like."
        wide
      >
        <creating.Form method="post" action="/studies?do=new" className="grid gap-3">
          <Field
            label="Title"
            name="title"
            autoFocus
            placeholder="Harbour lights after dark"
            problem={creating.data?.problem ?? undefined}
          />
          <fieldset className="grid grid-cols-2 gap-2">
            <legend className="pb-1 text-sm font-semibold">Begins with</legend>
            {[blank, ...starters].map(({ id, title, measures }) => (
              <label
                key={id}
                className="grid cursor-pointer grid-cols-[auto_1fr] items-start gap-x-2 rounded-md border border-hairline p-2.5 has-checked:border-plumage has-checked:bg-plumage-tint"
              >
                <input
                  type="radio"
                  name="starter"
                  value={id}
                  defaultChecked={id === ""}
                  className="mt-1 accent-(--plumage)"
                />
                <span>
                  <span className="block font-serif text-[15px]">{title}</span>
                  <span className="block text-xs text-muted">{measures}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <div className="flex justify-end">
            <Button type="submit" look="primary">
              Create study
            </Button>
          </div>
        </creating.Form>
      </Dialog>
    </div>
  );
}

const blank = {
  id: "",
  title: "Blank",
  measures: "A welcome, one small block with two words and two keys, and an ending.",
};

function emptyWords(filter: Filter, sought: string, total: number): string {
  if (sought)
    return `No study has “${sought}” in its title, code, people, labels or design. Clear the search to see all.`;
  if (filter === "bin") return "The bin is empty. A study you move here can be restored at any time.";
  if (total === 0) return "You have no studies yet. Choose “New study”, or import one from a file.";
  return "No study is in this state.";
}

const FilterButton = ({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) => (
  <button
    type="button"
    aria-pressed={on}
    onClick={onClick}
    className={`h-6 rounded-md border px-2 text-sm ${on ? "border-hairline bg-sheet text-ink" : "border-transparent text-muted hover:text-ink"}`}
  >
    {children}
  </button>
);
