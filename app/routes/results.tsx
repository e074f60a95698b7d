import { ChevronLeft, ChevronRight, Download } from "lucide-react";
import { useSearchParams } from "react-router";
import { requireStudy } from "~/app/account.server";
import { buttonClass, IconButton } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { RecordTable } from "~/app/components/table";
import { useStudy } from "~/app/editing/use-study";
import { ConditionChart, Legend, type Measure } from "~/app/results/condition-chart";
import { TimingReport } from "~/app/results/timing-report";
import { useInBrowser } from "~/app/components/use-in-browser";
import { compareConditions, comparableColumns, recordsPage, type ConditionAnswer } from "~/server/results";
import { listSessions } from "~/server/session-list";
import { timingOf } from "~/server/timing";
import type { Route } from "./+types/results";

const rowsAPage = 100;
const tabs = ["conditions", "timing", "records"] as const;

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const query = new URL(request.url).searchParams;
  const columns = comparableColumns(study);
  const known = (name: string | null) => columns.find((column) => column.name === name)?.name ?? null;
  const first = known(query.get("by")) ?? columns.find(({ factor }) => factor)?.name ?? "part";
  const second =
    query.get("and") === ""
      ? null
      : (known(query.get("and")) ??
        (query.has("and") ? null : (columns.filter(({ factor, name }) => factor && name !== first)[0]?.name ?? null)));
  const practice = query.get("practice") === "yes";
  const pilots = query.get("pilots") === "yes";
  const page = Math.max(1, Math.floor(Number(query.get("page")) || 1));
  const sessions = (await listSessions(context.store, study.id)).filter(({ pilot }) => !pilot);
  const tab = tabs.find((each) => each === query.get("tab")) ?? "conditions";
  return {
    tab,
    first,
    second: second === first ? null : second,
    practice,
    pilots,
    page,
    columns: columns.map(({ name }) => name),
    started: sessions.length,
    finished: sessions.filter(({ state }) => state === "finished").length,
    answer:
      tab === "conditions"
        ? await compareConditions(context.store, study, { first, second: second === first ? null : second, practice })
        : null,
    timing: tab === "timing" ? await timingOf(context.store, study) : null,
    records:
      tab === "records" ? await recordsPage(context.store, study, (page - 1) * rowsAPage, rowsAPage, pilots) : null,
  };
}

export default function Results({ loaderData }: Route.ComponentProps) {
  const { code } = useStudy();
  const [, setQuery] = useSearchParams();
  const set = (change: Record<string, string>) =>
    setQuery(
      (query) => {
        for (const [name, value] of Object.entries(change)) query.set(name, value);
        return query;
      },
      { replace: true, preventScrollReset: true },
    );
  const { tab, started, finished } = loaderData;
  return (
    <div className="flex h-full flex-col overflow-hidden">
      <div className="flex h-[52px] shrink-0 items-center gap-1 px-5">
        <div role="tablist" aria-label="Results" className="flex gap-1">
          {tabs.map((each) => (
            <button
              key={each}
              type="button"
              role="tab"
              aria-selected={tab === each}
              onClick={() => set({ tab: each })}
              className={`h-[30px] rounded-md border px-2.5 capitalize ${tab === each ? "border-hairline bg-sheet" : "border-transparent text-muted hover:text-ink"}`}
            >
              {each}
            </button>
          ))}
        </div>
        <span className="ml-4 text-muted">
          <b className="text-ink">{started} sessions in</b>, {finished} finished; rehearsals are left out
        </span>
        <span className="ml-auto" />
        <Menu
          align="end"
          trigger={
            <button type="button" className={buttonClass("primary")}>
              <Download size={16} aria-hidden="true" />
              Export {started} {started === 1 ? "session" : "sessions"}
            </button>
          }
        >
          <MenuItem onSelect={() => location.assign(`/studies/${code}/data`)}>
            Trials, events, sessions and codebook (zip)
          </MenuItem>
          <MenuItem onSelect={() => location.assign(`/studies/${code}/data?spreadsheet=yes`)}>
            The same, for a spreadsheet program
          </MenuItem>
          <MenuItem onSelect={() => location.assign(`/studies/${code}/trials.csv`)}>Trials only (CSV)</MenuItem>
        </Menu>
      </div>
      <div role="region" aria-label={`Results, ${tab}`} tabIndex={0} className="min-h-0 flex-1 overflow-auto px-5 pb-5">
        {loaderData.answer ? (
          <Conditions answer={loaderData.answer} data={loaderData} set={set} />
        ) : loaderData.timing ? (
          <TimingReport timing={loaderData.timing} />
        ) : (
          <Records data={loaderData} set={set} />
        )}
      </div>
    </div>
  );
}

type Data = Route.ComponentProps["loaderData"];
type Set = (change: Record<string, string>) => void;

const Word = ({
  children,
  label,
  options,
  onChoose,
}: {
  children: string;
  label: string;
  options: readonly (readonly [string, string])[];
  onChoose: (value: string) => void;
}) => (
  <Menu
    trigger={
      <button type="button" aria-label={`${label}: ${children}`} className="underlined">
        {children}
      </button>
    }
  >
    {options.map(([value, words]) => (
      <MenuItem key={value} onSelect={() => onChoose(value)}>
        {words}
      </MenuItem>
    ))}
  </Menu>
);

const measures = [
  ["rt", "mean reaction time of right answers"],
  ["accuracy", "share of right answers"],
] as const;

function Conditions({ answer, data, set }: { answer: ConditionAnswer; data: Data; set: Set }) {
  const [query] = useSearchParams();
  const inBrowser = useInBrowser();
  const measure: Measure = query.get("of") === "accuracy" ? "accuracy" : "rt";
  const columns = data.columns.map((name) => [name, name] as const);
  const persons = answer.sessions;
  return (
    <>
      <p className="font-serif text-[17px] leading-[27px]">
        Show{" "}
        <Word label="Measure" options={measures} onChoose={(of) => set({ of })}>
          {measure === "rt" ? "mean reaction time of right answers" : "share of right answers"}
        </Word>{" "}
        by{" "}
        <Word
          label="First column"
          options={columns}
          onChoose={(by) => set({ by, and: data.second === by ? "" : (data.second ?? "") })}
        >
          {data.first}
        </Word>{" "}
        and{" "}
        <Word
          label="Second column"
          options={[["", "nothing else"], ...columns.filter(([name]) => name !== data.first)]}
          onChoose={(and) => set({ and })}
        >
          {data.second ?? "nothing else"}
        </Word>
        ,{" "}
        <Word
          label="Practice"
          options={[
            ["no", "without practice"],
            ["yes", "with practice"],
          ]}
          onChoose={(practice) => set({ practice })}
        >
          {data.practice ? "with practice" : "without practice"}
        </Word>
        .
      </p>
      {answer.trials === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          No trials are in yet. Freeze a release under Collect and give its link to participants; what they do shows
          here at once.
        </p>
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,0.95fr)] gap-4">
          <figure className="rounded-md border border-hairline bg-sheet p-3">
            <div className="h-[310px]">{inBrowser && <ConditionChart answer={answer} measure={measure} />}</div>
            <Legend levels={answer.secondLevels} />
            <figcaption className="caption mt-2 px-2">
              <b>Figure 2.</b> {measure === "rt" ? "Mean reaction time" : "Right answers"} by {data.first}
              {data.second && ` and ${data.second}`} <em>(n = {persons}; bars: 95 % within participants)</em>
            </figcaption>
          </figure>
          <section className="rounded-md border border-hairline bg-sheet px-4 py-3">
            <h2 className="caption">
              <b>Table 2.</b> Means by condition
            </h2>
            <table className="mt-2 w-full text-left text-sm" data-condition-table>
              <thead>
                <tr className="h-8 border-b border-ink text-xs text-muted">
                  <th scope="col" className="font-semibold">
                    {data.first}
                  </th>
                  {data.second && (
                    <th scope="col" className="font-semibold">
                      {data.second}
                    </th>
                  )}
                  {["ms", "SD", "right", "trials"].map((head) => (
                    <th key={head} scope="col" className="text-right font-mono">
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {answer.cells.map((cell, index) => (
                  <tr key={cell.cell} className="h-[34px] border-b border-hairline last:border-b-0">
                    <td>
                      {answer.cells[index - 1]?.first === cell.first && data.second ? "" : cell.first || "(empty)"}
                    </td>
                    {data.second && <td>{cell.second || "(empty)"}</td>}
                    <td className="text-right font-mono text-xs">
                      {cell.meanRt === null ? "" : Math.round(cell.meanRt)}
                    </td>
                    <td className="text-right font-mono text-xs">{cell.sdRt === null ? "" : Math.round(cell.sdRt)}</td>
                    <td className="text-right font-mono text-xs">
                      {cell.accuracy === null ? "" : `${(cell.accuracy * 100).toFixed(1)} %`}
                    </td>
                    <td className="text-right font-mono text-xs">{cell.trials.toLocaleString("en")}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="mt-3 text-sm text-muted">
              Each session counts once: means of the sessions’ means. A missing or late answer counts as not right;
              times are of right answers only.
            </p>
          </section>
        </div>
      )}
    </>
  );
}

function Records({ data, set }: { data: Data; set: Set }) {
  const { records, page } = data;
  if (!records) return null;
  const pages = Math.max(1, Math.ceil(records.total / rowsAPage));
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-9 shrink-0 items-center gap-3">
        <span className="text-muted">{records.total.toLocaleString("en")} trials, as they are exported</span>
        <label className="flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            className="size-4 accent-(--plumage)"
            checked={data.pilots}
            onChange={(event) => set({ pilots: event.target.checked ? "yes" : "no", page: "1" })}
          />
          with rehearsals
        </label>
        <span className="ml-auto flex items-center gap-1 text-sm">
          <IconButton
            icon={ChevronLeft}
            label="Page before"
            disabled={page <= 1}
            onClick={() => set({ page: String(page - 1) })}
          />
          <span className="font-mono text-xs">
            {page} / {pages}
          </span>
          <IconButton
            icon={ChevronRight}
            label="Next page"
            disabled={page >= pages}
            onClick={() => set({ page: String(page + 1) })}
          />
        </span>
      </div>
      <div
        className="min-h-0 flex-1 overflow-auto border border-hairline bg-sheet"
        tabIndex={0}
        role="region"
        aria-label="Records"
      >
        <RecordTable
          header={records.header}
          rows={records.rows}
          empty="No trials are in yet. Freeze a release under Collect and give its link to participants."
        />
      </div>
    </div>
  );
}
