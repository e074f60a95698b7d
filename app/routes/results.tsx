import { useEffect } from "react";
import { data, useRevalidator, useSearchParams } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { Choice, Tick } from "~/app/components/fields";
import { ReadyToSend } from "~/app/components/ready-to-send";
import { usePolled } from "~/app/components/use-polled";
import { arrivalsOf, type Arrivals } from "~/server/results/arrivals";
import { useStudy } from "~/app/editing/use-study";
import { unlessAway } from "~/app/when-away";
import { LedgerMargin } from "~/app/results/ledger/ledger-margin";
import { Basis } from "~/app/results/figure/basis";
import { viewOf, type Change } from "~/app/results/result-views";
import { hasFollowing } from "~/core/design/lookup";
import { mayDo } from "~/core/rights/rights";
import type { PaperAnswer } from "~/server/results/paper";
import { noteLook } from "~/server/study-log";
import { resultNames } from "~/server/results/registry";
import type { Route } from "./+types/results";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { id, code, document, by, roles } = await requireStudy(request, context, params.code, "see-results");
  await noteLook(context.store.db, { code, by, what: "Results were looked at." });
  const query = new URL(request.url).searchParams;
  // Further pages are asked for as they come into sight.
  query.delete("page");
  const found = await context.results.answered(code, query);
  if (!found) throw data("The study is gone.", { status: 404 });
  // The design is told to those who may see it.
  if (found.name === "paper" && !mayDo(roles, "see-design"))
    found.answer = { ...(found.answer as PaperAnswer), design: [] };
  // Only studies in which something follows the answers have thresholds; one person is come to from Persons and Scores.
  const names = resultNames.filter(
    (name) => name === found.name || (name === "thresholds" ? hasFollowing(document) : name !== "person"),
  );
  return { ...found, names, arrived: await arrivalsOf(context.store, id) };
}

export const shouldRevalidate = unlessAway;

/** New sessions show by themselves soon after they have come. It stands apart, so that asking for them draws nothing anew. */
function FollowArrivals({ code, loaded }: { code: string; loaded: Arrivals }) {
  const arrived = usePolled(`/studies/${code}/arrivals`, arrivalsMs, loaded);
  const { revalidate } = useRevalidator();
  const isNew = arrived.sessions !== loaded.sessions || arrived.finished !== loaded.finished;
  useEffect(() => {
    if (isNew) void revalidate();
  }, [isNew, revalidate]);
  return null;
}
const arrivalsMs = 5000;

/** Sessions that are no part of results unless they are asked for, by why they are not. */
const apartInWords = ({ withdrawn, notTaken }: { withdrawn: number; notTaken: number }) =>
  [
    ...(withdrawn > 0 ? [`${withdrawn} of participants who left the study`] : []),
    ...(notTaken > 0 ? [`${notTaken} screened out or declined`] : []),
  ].join(" and ");

export default function Results({ loaderData }: Route.ComponentProps) {
  const { code } = useStudy();
  const [, setQuery] = useSearchParams();
  const ask = (change: Change) =>
    setQuery(
      (query) => {
        for (const [name, value] of Object.entries(change)) {
          query.delete(name);
          for (const each of [value].flat()) query.append(name, each);
        }
        return query;
      },
      { replace: true, preventScrollReset: true },
    );
  const { name, names, question, answer, started, finished, apart, all, waves, wave, releases, ledger } = loaderData;
  const View = viewOf(name);
  const { sessions } = ledger.counts;
  const basis = [
    releases.length === 0 ? "No session" : `${releases.length === 1 ? "Release" : "Releases"} ${releases.join(", ")}`,
    waves.find(({ id }) => id === wave)?.name ?? (waves.length > 1 ? "all waves" : null),
    `${sessions.kept} of ${sessions.in} sessions`,
    `exclusions “${ledger.set.name}”`,
    "without rehearsals",
  ]
    .filter((word) => word !== null)
    .join(" · ");
  return (
    <div className="flex h-full overflow-hidden small:block small:h-auto small:overflow-visible print:block print:h-auto print:overflow-visible">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex min-h-[52px] shrink-0 flex-wrap items-center gap-1 px-5 py-1.5 print:hidden">
          <div role="tablist" aria-label="Results" className="flex flex-wrap gap-1">
            {names.map((each) => (
              <button
                key={each}
                type="button"
                role="tab"
                aria-selected={name === each}
                onClick={() => ask({ tab: each })}
                className={`h-[30px] rounded-md border px-2 text-sm capitalize ${name === each ? "border-hairline bg-sheet" : "border-transparent text-muted hover:text-ink"}`}
              >
                {each}
              </button>
            ))}
          </div>
          <span className="mx-3 text-muted">
            <b className="text-ink">
              {started} {started === 1 ? "session" : "sessions"} in
            </b>
            , {finished} finished
          </span>
          {apart.withdrawn + apart.notTaken > 0 && (
            <Tick checked={all} onChange={(on) => ask({ all: on ? "yes" : "no" })}>
              with {apartInWords(apart)}
            </Tick>
          )}
          {waves.length > 1 && (
            <span className="ml-3 w-44">
              <Choice
                label="Wave"
                value={wave ?? ""}
                options={[["", "all waves"], ...waves.map(({ id, name: of }) => [id, of] as const)]}
                onChange={(chosen) => ask({ wave: chosen })}
              />
            </span>
          )}
        </div>
        <div
          role="region"
          aria-label={`Results, ${name}`}
          tabIndex={0}
          className="min-h-0 flex-1 overflow-auto px-5 pb-5 print:overflow-visible"
        >
          <Basis value={basis}>
            <View question={question} answer={answer} ask={ask} />
          </Basis>
          {name !== "records" && name !== "export" && name !== "paper" && started > 0 && (
            <p className="mt-2 text-xs text-muted" data-basis>
              {basis}
            </p>
          )}
        </div>
      </div>
      <FollowArrivals code={code} loaded={loaderData.arrived} />
      {/* Any figure can be put into the paper. */}
      <ReadyToSend to={`/studies/${code}/paper`} />
      {name !== "export" && <LedgerMargin ledger={ledger} ask={ask} />}
    </div>
  );
}
