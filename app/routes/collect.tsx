import { Snowflake } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { data, Link, useFetcher, useSearchParams } from "react-router";
import { toast } from "sonner";
import * as yup from "yup";
import { LabStart } from "~/app/collect/lab-start";
import { askedPage, collecting } from "~/app/collect/collecting.server";
import { EntryLinks } from "~/app/collect/entry-links";
import { Sessions } from "~/app/collect/sessions-table";
import { TakeIn } from "~/app/collect/take-in";
import { requireStudy } from "~/app/account.server";
import { readJson } from "~/app/form.server";
import { useReleaseDocument } from "~/app/collect/use-release-document";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";
import { When } from "~/app/components/dates";
import { usePolled } from "~/app/components/use-polled";
import { useStudy } from "~/app/editing/use-study";
import { preflight } from "~/core/check/preflight";
import { listProblem, mostLinks } from "~/core/collect/link-list";
import { terms, termsProblem, type Terms } from "~/core/collect/terms";
import { differencesInWords } from "~/core/describe/differences";
import { frozenDocument } from "~/server/frozen-documents";
import { addLinkSet, renewLink, setLinkSet } from "~/server/link-sets";
import { addLink, setLink } from "~/server/links";
import { freezeRelease, listReleases } from "~/server/releases";
import { setExcluded } from "~/server/sessions";
import type { Route } from "./+types/collect";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  const { store } = context;
  const stands = await collecting(store, study.id, askedPage(request));
  const [newest] = stands.releases;
  return {
    stands,
    newest: newest ? { id: newest.id, document: await frozenDocument(store.db, newest.id) } : null,
    origin: context.publicAddress?.origin ?? new URL(request.url).origin,
  };
}

/** A session to be left out or taken in again, a link to be changed, or one more to a release. */
const change = yup.object({
  session: yup.string(),
  excluded: yup.boolean(),
  link: yup.string(),
  open: yup.boolean(),
  label: yup.string().trim().min(1).max(80),
  terms: yup.mixed<Terms>((value): value is Terms => terms.fits(value)),
  release: yup.string(),
  /** Links for one person each: a set of them, all of a new one, or one that is to have another address. */
  set: yup.string(),
  links: yup
    .array(yup.object({ label: yup.string().required(), note: yup.string().defined() }).required())
    .max(mostLinks)
    .optional(),
  renew: yup.string(),
});

/** Freezes the study as it is saved; or leaves a session out of what counts, changes a link or makes one. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const study = await requireStudy(request, context, params.code);
  if (request.headers.get("Content-Type")?.includes("application/json")) {
    const sent = await readJson(request, change);
    const asked = sent?.terms;
    const reason = asked ? termsProblem(asked) : null;
    if (reason !== null) return data({ findings: [], reason }, { status: 422 });
    const changed = {
      ...(sent?.open === undefined ? {} : { open: sent.open }),
      ...(sent?.label === undefined ? {} : { label: sent.label }),
      ...(asked === undefined ? {} : { terms: asked }),
    };
    if (sent?.link !== undefined) await setLink(context.store, study.id, sent.link, changed);
    else if (sent?.set !== undefined) await setLinkSet(context.store, study.id, sent.set, changed);
    else if (sent?.renew !== undefined) await renewLink(context.store, study.id, sent.renew);
    else if (sent?.release !== undefined && sent.label !== undefined && sent.links) {
      const wrong = listProblem(sent.links);
      if (wrong !== null) return data({ findings: [], reason: wrong }, { status: 422 });
      const made = await addLinkSet(context.store, study.id, sent.release, sent.label, sent.links);
      if ("reason" in made) return data({ findings: [], reason: made.reason }, { status: 422 });
    } else if (sent?.release !== undefined && sent.label !== undefined) {
      const made = await addLink(context.store, study.id, sent.release, sent.label);
      if ("reason" in made) return data({ findings: [], reason: made.reason }, { status: 422 });
    } else if (sent?.session !== undefined && sent.excluded !== undefined)
      await setExcluded(context.store, study.id, sent.session, sent.excluded);
    else return data({ findings: [] }, { status: 400 });
    return { findings: [] };
  }
  const [before] = await listReleases(context.store, study.id);
  const note = before
    ? differencesInWords(await frozenDocument(context.store.db, before.id), study.document)
        .slice(0, 4)
        .join(" ") || "Nothing changed."
    : "First release.";
  const frozen = await freezeRelease(context.store, study, note);
  return frozen.ok ? { findings: [] } : data({ findings: frozen.findings }, { status: 422 });
}

export default function Collect({ loaderData }: Route.ComponentProps) {
  const { code, document, editor } = useStudy();
  const [, setQuery] = useSearchParams();
  const { releases, links, sets, byLink, counts, sessions, page, pages, intake } = usePolled(
    `/studies/${code}/collecting?page=${loaderData.stands.page}`,
    2500,
    loaderData.stands,
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const freezing = useFetcher<typeof action>();
  const release = releases.find(({ id }) => id === chosen) ?? releases[0];
  const errors = useMemo(() => preflight(document).filter(({ level }) => level === "error").length, [document]);
  const newest = releases[0];
  const newestDocument = useReleaseDocument(code, newest, loaderData.newest);
  const chosenDocument = useReleaseDocument(code, release, loaderData.newest);
  const changes = useMemo(
    () => (newestDocument ? differencesInWords(newestDocument, document) : []),
    [newestDocument, document],
  );
  const [waits, setWaits] = useState(false);
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => void (isHere.current = false);
  }, []);
  const [asks, setAsks] = useState(false);
  const isSame = newest !== undefined && newestDocument !== null && changes.length === 0;
  const freeze = async () => {
    setAsks(false);
    setWaits(true);
    const isSaved = await editor.whenSaved();
    // Whoever has left meanwhile may have gone on changing the study, and is not here to see what is released.
    if (!isHere.current) return;
    setWaits(false);
    if (isSaved) {
      setChosen(null);
      void freezing.submit(null, { method: "post" });
    } else
      toast.error("The server refuses the last change, so nothing was released. Undo it, or see “Not saved” above.");
  };
  const releaseButton = (
    <Button
      icon={Snowflake}
      {...(newest ? {} : { look: "primary" as const, className: "mt-4" })}
      disabled={errors > 0 || waits}
      onClick={() => (isSame ? setAsks(true) : void freeze())}
    >
      {waits ? "Saving first …" : "Release this version"}
    </Button>
  );

  return (
    <div className="grid h-full grid-cols-[252px_minmax(0,1fr)] small:h-auto small:grid-cols-1">
      <Dialog
        open={asks}
        onOpenChange={setAsks}
        title={`Nothing has changed since release ${newest?.number}`}
        description="Another release would be the same study under a new number, with a link of its own."
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsks(false)}>Not now</Button>
          <Button look="primary" onClick={() => void freeze()}>
            Release it all the same
          </Button>
        </div>
      </Dialog>
      <aside
        aria-label="Releases"
        className="overflow-auto border-r border-hairline p-3.5 small:border-b small:border-r-0"
      >
        <div className="flex items-center justify-between">
          <h1 className="caption">
            <b>Releases</b>
          </h1>
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
            {newest && <span className="mt-2 block">{releaseButton}</span>}
          </li>
        </ul>
      </aside>
      <div className="min-w-0 overflow-auto p-5 pt-3">
        {intake !== null && (
          <p role="alert" className="mb-3 rounded-md border border-alarm px-3 py-2 text-alarm">
            {intake}
          </p>
        )}
        {!release ? (
          <div className="mx-auto mt-24 max-w-[440px] text-center">
            <h2 className="font-serif text-[22px]">Nothing is released yet</h2>
            <p className="mt-2 text-muted">
              Participants only ever play a release: a frozen, numbered version of the study. Release the study as it is
              now, and an entry link is made for it.
            </p>
            {releaseButton}
            {errors > 0 && (
              <p className="mt-2 text-alarm">
                Preflight found {errors} {errors === 1 ? "error" : "errors"}. Rehearse lists them with the place to go.
              </p>
            )}
          </div>
        ) : (
          chosenDocument && (
            <>
              <div className="mb-3 flex justify-end gap-2">
                <TakeIn code={code} />
                <LabStart code={code} release={release} document={chosenDocument} />
              </div>
              <EntryLinks
                origin={loaderData.origin}
                links={links.filter(({ releaseId }) => releaseId === release.id)}
                sets={sets.filter(({ releaseId }) => releaseId === release.id)}
                counts={byLink}
                document={chosenDocument}
                release={release}
                newest={newest ?? release}
              />
              <Sessions
                sessions={sessions}
                counts={counts}
                document={chosenDocument}
                page={page}
                pages={pages}
                onPage={(wanted) => setQuery({ page: String(wanted) }, { replace: true, preventScrollReset: true })}
              />
            </>
          )
        )}
      </div>
    </div>
  );
}
