import { CopyPlus, Download, Play } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { useFetcher } from "react-router";
import { Button, buttonClass } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { Dialog } from "~/app/components/dialog";
import { Choice } from "~/app/components/fields";
import { useStudy } from "~/app/editing/use-study";
import { differencesInWords } from "~/core/describe/differences";
import { sideBySide } from "~/core/describe/side-by-side";
import type { StudyDocument } from "~/core/design/document";
import type { Release } from "~/server/releases";
import { useReleaseDocument } from "./use-release-document";

const draft = "draft";
/** So many differences are shown in one table. */
const mostShown = 300;

/** One release: what changed with it and who made it, what can be done with it, and how it compares with another. */
export function ReleaseDetails({
  release,
  releases,
  onClose,
}: {
  release: Release;
  releases: readonly Release[];
  onClose: () => void;
}) {
  const { code, document: present, may } = useStudy();
  const before = releases.find(({ number }) => number === release.number - 1);
  const document = useReleaseDocument(code, release, null);
  const earlier = useReleaseDocument(code, before, null);
  const [hash, setHash] = useState("");
  const doing = useFetcher<{ address?: string; reason?: string }>();
  const address = doing.data?.address;
  useEffect(() => {
    if (address !== undefined) location.assign(address);
  }, [address]);
  useEffect(() => {
    const leaving = new AbortController();
    fetch(`/studies/${code}/releases/${release.number}?hash=yes`, { signal: leaving.signal })
      .then(async (response) => response.ok && setHash(((await response.json()) as { sha256: string }).sha256))
      .catch(() => undefined);
    return () => leaving.abort();
  }, [code, release.number]);
  const act = (what: "play" | "copy") =>
    void doing.submit(
      { do: what },
      { method: "post", action: `/studies/${code}/releases/${release.number}`, encType: "application/json" },
    );
  const changes = useMemo(
    () => (document && earlier ? differencesInWords(earlier, document) : []),
    [document, earlier],
  );
  return (
    <Dialog wide open onOpenChange={(isOpen) => !isOpen && onClose()} title={`Release ${release.number}`}>
      <p className="text-muted">
        Frozen <When iso={release.frozenAt} />
        {release.by !== "" && ` by ${release.by}`}. {release.note}
      </p>
      <div className="flex flex-wrap gap-2">
        {may("rehearse") && (
          <Button icon={Play} disabled={doing.state !== "idle"} onClick={() => act("play")}>
            Play it
          </Button>
        )}
        {may("see-design") && (
          <>
            <Button icon={CopyPlus} disabled={doing.state !== "idle"} onClick={() => act("copy")}>
              Make a new study of it
            </Button>
            <a className={buttonClass()} href={`/studies/${code}/file?release=${release.number}`}>
              <Download size={16} aria-hidden="true" />
              Download
            </a>
          </>
        )}
      </div>
      {doing.data?.reason && (
        <p role="alert" className="text-alarm">
          {doing.data.reason}
        </p>
      )}
      {before && changes.length > 0 && changes.join(" ") !== release.note && (
        <div>
          <h3 className="font-semibold">What changed since release {before.number}</h3>
          <ul className="mt-1 max-h-40 list-disc overflow-auto pl-5 text-sm text-muted">
            {changes.map((each, index) => (
              <li key={index}>{each}</li>
            ))}
          </ul>
        </div>
      )}
      {release.accepted.length > 0 && (
        <div>
          <h3 className="font-semibold">What preflight noted, accepted{release.by !== "" && ` by ${release.by}`}</h3>
          <ul className="mt-1 list-disc pl-5 text-sm text-muted">
            {release.accepted.map(({ where, message }) => (
              <li key={where + message}>
                {where}: {message}
              </li>
            ))}
          </ul>
        </div>
      )}
      <p className="text-sm text-muted">
        SHA-256 of <span className="font-mono text-xs">study.lapwing.json</span> in its file, which names its media by
        theirs: <span className="break-all select-all font-mono text-xs text-ink">{hash}</span>
      </p>
      {document && (
        <Comparison
          release={release}
          document={document}
          others={releases.filter(({ id }) => id !== release.id)}
          present={present}
        />
      )}
    </Dialog>
  );
}

type ComparisonProps = {
  release: Release;
  document: StudyDocument;
  others: readonly Release[];
  present: StudyDocument;
};

function Comparison({ release, document, others, present }: ComparisonProps) {
  const { code } = useStudy();
  const [chosen, setChosen] = useState("");
  const fetched = useReleaseDocument(
    code,
    others.find(({ id }) => id === chosen),
    null,
  );
  const other = chosen === draft ? present : chosen === "" ? null : fetched;
  const number = chosen === draft ? Infinity : (others.find(({ id }) => id === chosen)?.number ?? 0);
  // The earlier one stands on the left.
  const isLater = number > release.number;
  const differing = useMemo(
    () => (other ? (isLater ? sideBySide(document, other) : sideBySide(other, document)) : []),
    [document, other, isLater],
  );
  const names = [`release ${release.number}`, chosen === draft ? "the draft" : `release ${number}`];
  const [earlier, later] = isLater ? names : names.reverse();
  return (
    <div>
      <div className="flex items-center gap-2">
        <h3 className="font-semibold">Side by side with</h3>
        <span className="w-40">
          <Choice
            label="Compare with"
            value={chosen}
            options={[
              ["", "choose …"],
              ...others.map(({ id, number }) => [id, `release ${number}`] as const),
              [draft, "the draft"],
            ]}
            onChange={setChosen}
          />
        </span>
      </div>
      {other && differing.length === 0 && <p className="mt-1 text-sm text-muted">They are the same.</p>}
      {differing.length > 0 && (
        <table className="mt-2 w-full table-fixed text-left text-sm">
          <thead>
            <tr className="h-7 border-b border-hairline text-xs text-muted [&>th]:px-2">
              <th scope="col" className="w-2/5">
                where
              </th>
              <th scope="col">{earlier}</th>
              <th scope="col">{later}</th>
            </tr>
          </thead>
          <tbody>
            {differing.slice(0, mostShown).map(({ where, one, other: there }, index) => (
              <tr key={index} className="border-b border-hairline align-top [&>td]:break-words [&>td]:px-2 [&>td]:py-1">
                <td className="text-muted">{where}</td>
                <td>{one ?? <None />}</td>
                <td>{there ?? <None />}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {differing.length > mostShown && (
        <p className="mt-1 text-sm text-muted">and {differing.length - mostShown} more</p>
      )}
    </div>
  );
}

const None = () => <span className="text-muted">not there</span>;
