import { useMemo, useState } from "react";
import { Link } from "react-router";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import { preflight } from "~/core/check/preflight";
import { differencesInWords } from "~/core/describe/differences";
import type { StudyDocument } from "~/core/design/document";
import type { Release } from "~/server/releases";
import type { Wave } from "~/server/waves";
import { Freeze } from "./freeze";
import { ReleaseDetails } from "./release-details";

type Props = {
  releases: readonly Release[];
  /** The document of the newest release; null while it is not known. */
  newestDocument: StudyDocument | null;
  waves: readonly Wave[];
  begun: readonly string[];
  /** The release the wave that is looked at runs. */
  running: string | undefined;
};

/** The releases of a study, newest first, with what changed in each and which waves run it; and the draft. */
export function ReleaseList({ releases, newestDocument, waves, begun, running }: Props) {
  const { document, may } = useStudy();
  const [opened, setOpened] = useState<string | null>(null);
  const [newest] = releases;
  const changes = useMemo(
    () => (newestDocument ? differencesInWords(newestDocument, document) : null),
    [newestDocument, document],
  );
  const errors = useMemo(() => preflight(document).filter(({ level }) => level === "error").length, [document]);
  const release = releases.find(({ id }) => id === opened);
  return (
    <>
      <ul className="mt-3 grid gap-2">
        {releases.map((each) => (
          <li key={each.id}>
            <button
              type="button"
              onClick={() => setOpened(each.id)}
              className={`block w-full rounded-md border px-2.5 py-2 text-left hover:border-plumage ${each.id === running ? "border-hairline border-l-[3px] border-l-plumage bg-plumage-tint" : "border-hairline bg-sheet"}`}
            >
              <span className="flex justify-between">
                <b>Release {each.number}</b>
                <span className="text-xs text-muted">
                  <When iso={each.frozenAt} />
                </span>
              </span>
              <span className="text-sm text-muted">{each.note}</span>
              <span className="block text-xs text-plumage">
                {waves
                  .filter(({ releaseId }) => releaseId === each.id)
                  .map(({ plan }) => plan.name)
                  .join(", ")}
              </span>
            </button>
          </li>
        ))}
        {may("see-design") && (
          <li className="rounded-md border border-dashed border-muted/50 px-2.5 py-2 text-sm text-muted">
            <b className="block text-base">Draft</b>
            {!newest
              ? "Not released yet."
              : !changes || changes.length === 0
                ? `The same as release ${newest.number}.`
                : `${changes.length} ${changes.length === 1 ? "change" : "changes"} since release ${newest.number}. ${changes.slice(0, 3).join(" ")}`}{" "}
            {errors === 0 ? (
              "No errors."
            ) : (
              <Link to="../rehearse" className="font-semibold text-alarm">
                {errors} {errors === 1 ? "error" : "errors"} to mend first.
              </Link>
            )}
            {newest && may("hand-out") && (
              <span className="mt-2 block">
                <Freeze newest={newest} changes={changes} waves={waves} begun={begun} />
              </span>
            )}
          </li>
        )}
      </ul>
      {release && (
        <ReleaseDetails key={release.id} release={release} releases={releases} onClose={() => setOpened(null)} />
      )}
    </>
  );
}
