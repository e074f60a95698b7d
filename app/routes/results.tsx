import { Download } from "lucide-react";
import { useSearchParams } from "react-router";
import { requireStudy } from "~/app/account.server";
import { buttonClass } from "~/app/components/button";
import { Menu, MenuItem } from "~/app/components/menu";
import { useStudy } from "~/app/editing/use-study";
import { dataAddress } from "~/app/results/export-choice";
import { viewOf } from "~/app/results/result-views";
import { exportFormats, formatNames } from "~/core/export/formats/registry";
import { answered, resultNames } from "~/server/results/registry";
import { listSessions } from "~/server/session-list";
import type { Route } from "./+types/results";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const sessions = (await listSessions(context.store, study.id)).filter(({ pilot }) => !pilot);
  return {
    ...(await answered(context.store, study, new URL(request.url).searchParams)),
    names: resultNames,
    started: sessions.length,
    finished: sessions.filter(({ state }) => state === "finished").length,
  };
}

export default function Results({ loaderData }: Route.ComponentProps) {
  const { code } = useStudy();
  const [, setQuery] = useSearchParams();
  const ask = (change: Record<string, string>) =>
    setQuery(
      (query) => {
        for (const [name, value] of Object.entries(change)) query.set(name, value);
        return query;
      },
      { replace: true, preventScrollReset: true },
    );
  const { name, names, question, answer, started, finished } = loaderData;
  const View = viewOf(name);
  return (
    <div className="flex h-full flex-col overflow-hidden">
      <div className="flex h-[52px] shrink-0 items-center gap-1 px-5">
        <div role="tablist" aria-label="Results" className="flex gap-1">
          {names.map((each) => (
            <button
              key={each}
              type="button"
              role="tab"
              aria-selected={name === each}
              onClick={() => ask({ tab: each })}
              className={`h-[30px] rounded-md border px-2.5 capitalize ${name === each ? "border-hairline bg-sheet" : "border-transparent text-muted hover:text-ink"}`}
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
          {formatNames.map((format, index) => (
            <MenuItem key={format} onSelect={() => location.assign(dataAddress(code, format))}>
              {index === 0 ? "Trials, events, sessions and codebook (zip)" : `The same, ${exportFormats[format].says}`}
            </MenuItem>
          ))}
          <MenuItem onSelect={() => location.assign(`/studies/${code}/trials.csv`)}>Trials only (CSV)</MenuItem>
        </Menu>
      </div>
      <div
        role="region"
        aria-label={`Results, ${name}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto px-5 pb-5"
      >
        <View question={question} answer={answer} ask={ask} />
      </div>
    </div>
  );
}
