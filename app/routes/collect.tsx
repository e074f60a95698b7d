import { Copy, ExternalLink, Snowflake } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { data, Link, useFetcher, useRevalidator } from "react-router";
import { toast } from "sonner";
import * as yup from "yup";
import { LabStart } from "~/app/collect/lab-start";
import { KeptAside } from "~/app/collect/kept-aside";
import { TakeIn } from "~/app/collect/take-in";
import { requireStudy } from "~/app/account.server";
import { readJson } from "~/app/form.server";
import { Button, buttonClass } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { preflight } from "~/core/check/preflight";
import { differencesInWords } from "~/core/describe/differences";
import { partsInOrder, trialsInBlock } from "~/core/design/lookup";
import type { StudyDocument } from "~/core/design/types";
import { freezeRelease, linksOf, listReleases } from "~/server/releases";
import { listSessions, setExcluded, type SessionLine } from "~/server/sessions";
import type { Route } from "./+types/collect";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const [releases, links, sessions] = await Promise.all([
    listReleases(context.store, study.id),
    linksOf(context.store, study.id),
    listSessions(context.store, study.id),
  ]);
  return { releases, links, sessions, origin: new URL(request.url).origin };
}

const excluding = yup.object({ session: yup.string().required(), excluded: yup.boolean().required() });

/** Freezes the study as it is saved; leaves a session out of what counts or takes it in again. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  if (request.headers.get("Content-Type")?.includes("application/json")) {
    const sent = await readJson(request, excluding);
    if (!sent) return data({ findings: [] }, { status: 400 });
    await setExcluded(context.store, study.id, sent.session, sent.excluded);
    return { findings: [] };
  }
  const before = (await listReleases(context.store, study.id))[0];
  const note = before
    ? differencesInWords(before.document, study.document).slice(0, 4).join(" ") || "Nothing changed."
    : "First release.";
  const frozen = await freezeRelease(context.store, study, note);
  return frozen.ok ? { findings: [] } : data({ findings: frozen.findings }, { status: 422 });
}

export default function Collect({ loaderData }: Route.ComponentProps) {
  const { code, document, editor } = useStudy();
  const { releases, links, sessions } = loaderData;
  const [chosen, setChosen] = useState<string | null>(null);
  const freezing = useFetcher<typeof action>();
  const { revalidate, state } = useRevalidator();
  const release = releases.find(({ id }) => id === chosen) ?? releases[0];
  const link = links.find(({ releaseId }) => releaseId === release?.id);
  const errors = useMemo(() => preflight(document).filter(({ level }) => level === "error").length, [document]);
  const newest = releases[0];
  const changes = newest ? differencesInWords(newest.document, document) : [];

  useEffect(() => {
    const timer = setInterval(
      () => state === "idle" && globalThis.document.visibilityState === "visible" && void revalidate(),
      2500,
    );
    return () => clearInterval(timer);
  }, [revalidate, state]);

  const freeze = async () => {
    if (await editor.saveNow()) {
      setChosen(null);
      void freezing.submit(null, { method: "post" });
    } else toast.error("The study is not saved yet, so it was not frozen. Try again.");
  };

  return (
    <div className="grid h-full grid-cols-[252px_minmax(0,1fr)]">
      <aside aria-label="Releases" className="overflow-auto border-r border-hairline p-3.5">
        <div className="flex items-center justify-between">
          <h1 className="caption">
            <b>Releases</b>
          </h1>
          <Button icon={Snowflake} disabled={errors > 0} onClick={() => void freeze()}>
            Freeze a new one
          </Button>
        </div>
        {(freezing.data?.findings ?? []).map(({ where, message }) => (
          <p key={where + message} role="alert" className="mt-2 text-sm text-alarm">
            {where}: {message}
          </p>
        ))}
        <ul className="mt-3 grid gap-2">
          {releases.map((each) => (
            <li key={each.id}>
              <button
                type="button"
                aria-pressed={each.id === release?.id}
                onClick={() => setChosen(each.id)}
                className={`block w-full rounded-md border px-2.5 py-2 text-left ${each.id === release?.id ? "border-hairline border-l-[3px] border-l-plumage bg-plumage-tint" : "border-hairline bg-sheet"}`}
              >
                <span className="flex justify-between">
                  <b>Release {each.number}</b>
                  <span className="text-xs text-muted">
                    <When iso={each.frozenAt} />
                  </span>
                </span>
                <span className="text-sm text-muted">{each.note}</span>
              </button>
            </li>
          ))}
          <li className="rounded-md border border-dashed border-muted/50 px-2.5 py-2 text-sm text-muted">
            <b className="block text-base">Draft</b>
            {!newest
              ? "Not released yet."
              : changes.length === 0
                ? `The same as release ${newest.number}.`
                : `${changes.length} ${changes.length === 1 ? "change" : "changes"} since release ${newest.number}. ${changes.slice(0, 3).join(" ")}`}{" "}
            {errors === 0 ? (
              "No errors."
            ) : (
              <Link to="../rehearse" className="font-semibold text-alarm">
                {errors} {errors === 1 ? "error" : "errors"} to mend first.
              </Link>
            )}
          </li>
        </ul>
      </aside>
      <div className="min-w-0 overflow-auto p-5 pt-3">
        {!release ? (
          <div className="mx-auto mt-24 max-w-[440px] text-center">
            <h2 className="font-serif text-[22px]">Nothing is released yet</h2>
            <p className="mt-2 text-muted">
              Participants only ever play a release: a frozen, numbered version of the study. Freeze the study as it is
              now, and an entry link is made for it.
            </p>
            <Button
              icon={Snowflake}
              look="primary"
              className="mt-4"
              disabled={errors > 0}
              onClick={() => void freeze()}
            >
              Freeze release 1
            </Button>
            {errors > 0 && (
              <p className="mt-2 text-alarm">
                Preflight found {errors} {errors === 1 ? "error" : "errors"}. Rehearse lists them with the place to go.
              </p>
            )}
          </div>
        ) : (
          <>
            <div className="mb-3 flex justify-end gap-2">
              <TakeIn code={code} />
              <LabStart code={code} release={release} />
            </div>
            {link && (
              <EntryLinkPanel
                address={`${loaderData.origin}/join/${link.token}`}
                needs={linkNeeds(release.document)}
                elsewhere={release.document.settings.participation.elsewhere}
                sessions={sessions.filter(({ releaseId }) => releaseId === release.id)}
              />
            )}
            <Sessions sessions={sessions} document={release.document} />
          </>
        )}
      </div>
    </div>
  );
}

/** What has to stand behind an entry link, so that the person gets their group and stratum. */
const linkNeeds = ({ allocation, groups }: StudyDocument): string[] => [
  ...(allocation.method === "by-parameter" && allocation.parameter
    ? [`${allocation.parameter.name}=${groups.map(({ id }) => allocation.parameter?.values[id] ?? "").join(" or ")}`]
    : []),
  ...allocation.strata.map(({ parameter, values }) => `${parameter}=${values.join(" or ")}`),
];

function EntryLinkPanel({
  address,
  needs,
  elsewhere,
  sessions,
}: {
  address: string;
  needs: string[];
  elsewhere: boolean;
  sessions: SessionLine[];
}) {
  const copy = () =>
    copyText(address, "The link is copied.", "The browser did not allow copying. Select the address and copy it.");
  return (
    <section aria-label="Entry link" className="rounded-md border border-hairline bg-sheet p-4">
      <div className="flex items-center gap-3">
        <span className="rounded-md bg-chestnut-tint px-2 text-xs font-semibold leading-5 text-chestnut">open</span>
        <b>Open link</b>
        <span className="select-all font-mono text-xs text-muted" data-entry-link>
          {address}
        </span>
        <Button icon={Copy} look="quiet" className="!text-plumage" onClick={copy}>
          Copy
        </Button>
        <a href={address} target="_blank" rel="noreferrer" className={`${buttonClass("quiet")} !text-plumage`}>
          <ExternalLink size={16} aria-hidden="true" />
          Open
        </a>
        <span className="ml-auto text-sm text-muted">
          {sessions.length} started, {sessions.filter(({ state }) => state === "finished").length} finished
        </span>
      </div>
      <p className="mt-2 font-serif text-[17px] leading-[27px]">
        Anyone with the link may take part, as often as they like, and may go on where they stopped on the same computer
        {elsewhere && ", or by their code on another one"}. With{" "}
        <span className="whitespace-nowrap font-mono text-sm">?participant=</span> and a name of theirs behind it, a
        later sitting has the same number, group and order as the first.
      </p>
      {needs.length > 0 && (
        <p className="mt-1 text-sm text-chestnut">
          The link needs {needs.join(" and ")} behind it, for example{" "}
          <span className="font-mono text-xs">?{needs.map((need) => need.split(" or ")[0]).join("&")}</span>.
        </p>
      )}
    </section>
  );
}

function Sessions({ sessions, document }: { sessions: SessionLine[]; document: StudyDocument }) {
  const real = sessions.filter(({ pilot }) => !pilot);
  const finished = real.filter(({ state }) => state === "finished");
  const parts = partsInOrder(document);
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-x-6 gap-y-1 px-0.5">
        <span>
          <b>{finished.length} finished</b> <span className="text-muted">of {real.length} started</span>
        </span>
        {document.groups.map((group, index) => (
          <span key={group.id} className="flex items-center gap-1.5 text-sm">
            <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(index) }} />
            {group.name}{" "}
            <span className="font-mono text-xs">{finished.filter((each) => each.group === group.id).length}</span>
          </span>
        ))}
        <span className="ml-auto text-sm text-muted">
          {real.filter(({ state }) => state === "broken off").length} broken off
        </span>
      </div>
      <table className="mt-2 w-full border border-hairline bg-sheet text-left">
        <thead>
          <tr className="h-8 border-b border-hairline text-xs text-muted">
            {["participant", "group", "parts", "state", "last seen", ""].map((head) => (
              <th key={head} scope="col" className="px-3 font-semibold">
                {head || <span className="sr-only">remarks</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sessions.map((session) => (
            <SessionRow key={session.id} session={session} document={document} parts={parts} />
          ))}
        </tbody>
      </table>
      {sessions.length === 0 && (
        <p className="border border-t-0 border-hairline bg-sheet p-4 text-muted">
          Nobody has taken part yet. Give the link above to participants; their sessions appear here as they go.
        </p>
      )}
    </>
  );
}

function SessionRow({
  session,
  document,
  parts,
}: {
  session: SessionLine;
  document: StudyDocument;
  parts: ReturnType<typeof partsInOrder>;
}) {
  const at = document.groups.findIndex(({ id }) => id === session.group);
  const here = parts.findIndex(({ id }) => id === session.part);
  let before = 0;
  const bars = parts.map((part, index) => {
    const trials = part.kind === "block" ? trialsInBlock(part) : 0;
    const share =
      session.state === "finished"
        ? 1
        : part.kind === "block"
          ? Math.max(0, Math.min(1, (session.trials - before) / Math.max(1, trials)))
          : index < here || (index === here && part.kind === "page" && session.trials >= before)
            ? 1
            : 0;
    before += trials;
    return { id: part.id, share, grow: part.kind === "block" ? Math.max(3, trials / 8) : 1 };
  });
  const live = session.state === "active";
  const { code } = useStudy();
  const excluding = useFetcher();
  return (
    <tr
      className={`h-[34px] border-b border-hairline last:border-b-0 ${session.excluded ? "text-muted" : ""} ${live ? "bg-chestnut-tint/30" : ""}`}
      data-session-state={session.state}
    >
      <td className="px-3 font-mono text-xs">
        {session.pilot ? `pilot, as ${session.participant}` : session.participant}
      </td>
      <td className="px-3">
        <span className="flex items-center gap-1.5">
          <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(at) }} />
          {document.groups[at]?.name}
        </span>
      </td>
      <td className="px-3">
        <span
          role="img"
          aria-label={`${session.trials} of ${session.trialsPlanned} trials`}
          className="flex w-[300px] gap-0.5"
        >
          {bars.map(({ id, share, grow }) => (
            <span
              key={id}
              className="h-2 overflow-hidden rounded-[2px] bg-track"
              style={{ flexGrow: grow, flexBasis: 6 }}
            >
              <span className="block h-full bg-plumage" style={{ width: `${100 * share}%` }} />
            </span>
          ))}
        </span>
      </td>
      <td className={`px-3 ${live ? "text-chestnut" : session.state === "broken off" ? "text-muted" : ""}`}>
        {live
          ? `trial ${Math.min(session.trials + 1, session.trialsPlanned)} of ${session.trialsPlanned}`
          : session.state === "broken off"
            ? `broken off at trial ${session.trials + 1}`
            : session.state === "withdrawn"
              ? `left the study${session.removed ? ", records removed" : ` after ${session.trials} trials`}`
              : "finished"}
        {session.keptAside > 0 && (
          <>
            {", "}
            <KeptAside code={code} session={session.id} count={session.keptAside} />
          </>
        )}
        {session.excluded && ", not counted"}
      </td>
      <td className="px-3 text-muted">
        <When iso={session.seenAt} />
      </td>
      <td className="whitespace-nowrap px-3 text-right">
        {session.sitting > 1 && <span className="mr-2 text-xs text-muted">sitting {session.sitting}</span>}
        {!session.pilot && (
          <button
            type="button"
            className="mr-2 text-xs text-muted underline hover:text-ink"
            title="Whether it holds its place in the balance of groups and orders. Its data stay in Results either way."
            onClick={() =>
              void excluding.submit(
                { session: session.id, excluded: !session.excluded },
                { method: "post", encType: "application/json" },
              )
            }
          >
            {session.excluded ? "count again" : "do not count"}
          </button>
        )}
        {session.pilot ? (
          <span className="rounded-md border border-dashed border-muted px-1.5 text-xs">pilot</span>
        ) : (
          <span className="text-xs text-muted">{session.release === null ? "" : `release ${session.release}`}</span>
        )}
      </td>
    </tr>
  );
}
