import { ListTodo } from "lucide-react";
import { useEffect, useRef } from "react";
import { data, useSearchParams, Link } from "react-router";
import { buttonClass } from "~/app/components/button";
import { originOf } from "~/app/account.server";
import { refuseUnless, requireStudy } from "~/app/study-access.server";
import { askedFor, collecting, markOf } from "~/app/collect/collecting.server";
import { deeds } from "~/app/collect/deeds.server";
import { EntryLinks } from "~/app/collect/entry-links";
import { Freeze } from "~/app/collect/freeze";
import { LabStart } from "~/app/collect/lab-start";
import { SessionFilters, type AskedSessions } from "~/app/collect/live-view";
import { ReleaseList } from "~/app/collect/release-list";
import { Sessions } from "~/app/collect/sessions-table";
import { Sittings } from "~/app/collect/sittings";
import { TakeIn } from "~/app/collect/take-in";
import { useLive } from "~/app/collect/use-live";
import { useReleaseDocument } from "~/app/collect/use-release-document";
import { WavePanel, WaveSwitch } from "~/app/collect/wave-panel";
import { WaveTabs } from "~/app/collect/wave-tabs";
import { useStudy } from "~/app/editing/use-study";
import { isDeeperThan } from "~/core/shape/depth";
import { preflight } from "~/core/check/preflight";
import { hasSittings } from "~/core/design/sittings";
import { frozenDocument } from "~/server/frozen-documents";
import { freezing, releaseAnew } from "~/server/releases";
import { noteDeed } from "~/server/study-log";
import { actionOrAway, unlessAway } from "~/app/when-away";
import type { Route } from "./+types/collect";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "see-sessions");
  const { store } = context;
  const stands = await collecting(store, study.id, askedFor(request));
  const [newest] = stands.releases;
  return {
    stands,
    mark: markOf(stands),
    newest: newest ? { id: newest.id, document: await frozenDocument(store.db, newest.id) } : null,
    origin: originOf(request, context),
  };
}

/** Freezes the study as it is saved (`do: "freeze"`), or does one of the deeds of the page. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code, "hand-out", "note", "leave-out");
  const sent: unknown = await request.json().catch(() => null);
  const unreadable = data({ findings: [], reason: "This request cannot be read." }, { status: 400 });
  if (typeof sent !== "object" || sent === null || isDeeperThan(sent, 20)) return unreadable;
  const { do: name, ...what } = sent as { do?: unknown };
  const who = { name: study.account.name, by: study.by };
  if (name === "freeze") {
    refuseUnless(study.roles, ["hand-out"]);
    if (!freezing.isValidSync(what, { strict: true })) return unreadable;
    const frozen = await releaseAnew(context.store, study, { ...what, by: who.name });
    if (!frozen.ok) return data({ findings: frozen.findings }, { status: 422 });
    const released = `Release ${frozen.release.number} was frozen.`;
    await noteDeed(context.store.db, { code: study.code, by: who.by, what: released, kind: "released" });
    return { findings: [] };
  }
  const deed = typeof name === "string" && Object.hasOwn(deeds, name) ? deeds[name] : undefined;
  if (deed) refuseUnless(study.roles, [deed.right]);
  const done = deed ? await deed.does(what, { store: context.store, study, ...who }) : null;
  if (!done) return unreadable;
  return done.reason === undefined ? { findings: [], ...done } : data({ findings: [], ...done }, { status: 422 });
}

export const clientAction = actionOrAway;
export const shouldRevalidate = unlessAway;

export default function Collect({ loaderData }: Route.ComponentProps) {
  const { code, document, may } = useStudy();
  const mayHandOut = may("hand-out");
  const [query, setQuery] = useSearchParams();
  const { stands } = loaderData;
  // What is asked for stands in the address: it is looked for as the page was loaded.
  const asked = new URLSearchParams([...query].filter(([name]) => name !== "mark"));
  asked.set("mark", loaderData.mark);
  const { data: live, isLost } = useLive(`/studies/${code}/collecting?${asked.toString()}`, stands);
  const { releases, waves, begun, wave, links, sets, byLink, codes, unsuited, counts, page, pages, intake } = live;
  const sought: AskedSessions = {
    ...{ search: query.get("search") ?? "", link: query.get("link") ?? "", group: query.get("group") ?? "" },
    ...{ state: query.get("state") ?? "", order: query.get("order") ?? "" },
  };
  const sessions = live.order.flatMap((id) => live.sessions[id] ?? []);
  const [newest] = releases;
  const chosen = waves.find(({ id }) => id === wave);
  const release = releases.find(({ id }) => id === chosen?.releaseId);
  const newestDocument = useReleaseDocument(code, newest, loaderData.newest);
  const waveDocument = useReleaseDocument(code, release, loaderData.newest);
  // What was asked last stands in the address only once that has changed: what is asked meanwhile is added to it.
  const asking = useRef<Record<string, string>>({});
  const address = query.toString();
  useEffect(() => void (asking.current = Object.fromEntries(new URLSearchParams(address))), [address]);
  const ask = (change: Record<string, string>) => {
    asking.current = Object.fromEntries(
      Object.entries({ ...asking.current, ...change }).filter(([, value]) => value !== ""),
    );
    setQuery(asking.current, { replace: true, preventScrollReset: true });
  };

  return (
    <div className="grid h-full grid-cols-[252px_minmax(0,1fr)] small:h-auto small:grid-cols-1">
      <aside
        aria-label="Releases"
        className="overflow-auto border-r border-hairline p-3.5 small:border-b small:border-r-0"
      >
        <h1 className="caption">
          <b>Releases</b>
        </h1>
        <ReleaseList
          releases={releases}
          newestDocument={newestDocument}
          waves={waves}
          begun={begun}
          running={release?.id}
        />
      </aside>
      <div className="min-w-0 overflow-auto p-5 pt-3">
        {isLost && (
          <p role="status" className="mb-3 rounded-md bg-chestnut-tint px-3 py-2 text-sm text-chestnut">
            The server does not answer just now: what is shown may be old. It is tried again by itself; if you were
            signed out, sign in again.
          </p>
        )}
        {intake !== null && (
          <p role="alert" className="mb-3 rounded-md border border-alarm px-3 py-2 text-alarm">
            {intake}
          </p>
        )}
        {(!chosen || !newest) && !mayHandOut ? (
          <p className="mt-24 text-center text-muted">Nothing is released yet.</p>
        ) : !chosen || !newest ? (
          <NothingYet errors={preflight(document).filter(({ level }) => level === "error").length} />
        ) : (
          release &&
          waveDocument && (
            <>
              <div className="mb-2.5 flex flex-wrap items-center justify-between gap-2">
                <WaveTabs
                  waves={waves}
                  chosen={chosen.id}
                  newest={newest}
                  onChoose={(id) => ask({ wave: id, page: "1" })}
                />
                <div className="flex gap-2">
                  {may("start-sessions") && (
                    <>
                      <TakeIn code={code} />
                      <Link to={`/studies/${code}/laboratory?wave=${chosen.id}`} className={buttonClass()}>
                        <ListTodo size={16} aria-hidden="true" />
                        Laboratory
                      </Link>
                      <LabStart code={code} wave={chosen} release={release} document={waveDocument} />
                    </>
                  )}
                  {mayHandOut && <WaveSwitch key={chosen.id} wave={chosen} />}
                </div>
              </div>
              {mayHandOut && (
                <WavePanel
                  key={chosen.id}
                  wave={chosen}
                  releases={releases}
                  hasSessions={begun.includes(chosen.id)}
                  hasSittings={hasSittings(waveDocument)}
                  isOnly={waves.length === 1}
                />
              )}
              {mayHandOut && (
                <EntryLinks
                  key={`links of ${chosen.id}`}
                  origin={loaderData.origin}
                  links={links}
                  sets={sets}
                  counts={byLink}
                  codes={codes}
                  unsuited={unsuited}
                  document={waveDocument}
                  wave={chosen}
                />
              )}
              {hasSittings(waveDocument) && (
                <Sittings
                  key={`sittings of ${chosen.id}`}
                  wave={chosen}
                  document={waveDocument}
                  origin={loaderData.origin}
                  token={links[0]?.token}
                  finished={counts.finished}
                />
              )}
              <Sessions
                sessions={sessions}
                counts={counts}
                target={chosen.plan.target}
                document={waveDocument}
                page={page}
                pages={pages}
                found={live.found}
                isSought={Object.values(sought).some((each) => each !== "")}
                summary={live.summary}
                onPage={(wanted) => ask({ page: String(wanted) })}
                filters={
                  <SessionFilters
                    asked={sought}
                    ask={(change) => ask({ ...change, page: "1" })}
                    links={links}
                    sets={sets}
                    document={waveDocument}
                  />
                }
              />
            </>
          )
        )}
      </div>
    </div>
  );
}

const NothingYet = ({ errors }: { errors: number }) => (
  <div className="mx-auto mt-24 max-w-[440px] text-center">
    <h2 className="font-serif text-[22px]">Nothing is released yet</h2>
    <p className="mt-2 text-muted">
      Participants only ever play a release: a frozen, numbered version of the study. Release the study as it is now,
      and a first wave with an entry link is made for it.
    </p>
    <Freeze newest={undefined} changes={null} waves={[]} begun={[]} />
    {errors > 0 && (
      <p className="mt-2 text-alarm">
        Preflight found {errors} {errors === 1 ? "error" : "errors"}. Rehearse lists them with the place to go.
      </p>
    )}
  </div>
);
