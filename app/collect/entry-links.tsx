import { Copy, ExternalLink, Lock, LockOpen, QrCode } from "lucide-react";
import { useState } from "react";
import { Link, useFetcher } from "react-router";
import { AddLine } from "~/app/components/add-line";
import { Button, buttonClass, IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { namedWithin, TextField } from "~/app/components/fields";
import { LinkSetPanel } from "~/app/collect/link-sets";
import { NewLinks } from "~/app/collect/new-links";
import { LinkSentence } from "~/app/collect/link-sentence";
import { useStudy } from "~/app/editing/use-study";
import { parameterStrata } from "~/core/design/allocation";
import type { StudyDocument } from "~/core/design/document";
import type { CodesLeft } from "~/server/ends";
import { Unsuited } from "~/app/collect/link-suited";
import type { UnsuitedCounts } from "~/server/unsuited";
import type { LinkSet } from "~/server/link-sets";
import type { EntryLink } from "~/server/links";
import type { Wave } from "~/server/waves";

/** The parameters a link needs for this study, as written in an address. */
const linkNeeds = ({ allocation, groups }: StudyDocument): string[] => [
  ...(allocation.method === "by-parameter" && allocation.parameter
    ? [`${allocation.parameter.name}=${groups.map(({ id }) => allocation.parameter?.values[id] ?? "").join(" or ")}`]
    : []),
  ...parameterStrata(allocation).map(({ parameter, values }) => `${parameter}=${values.join(" or ")}`),
];

type Counts = { started: number; finished: number };

/** The links of a wave, each with what it asks, and a way to make another. */
export function EntryLinks({
  origin,
  links,
  sets,
  counts,
  codes,
  unsuited,
  document,
  wave,
}: {
  origin: string;
  links: EntryLink[];
  sets: LinkSet[];
  counts: Readonly<Record<string, Counts>>;
  codes: CodesLeft;
  unsuited: UnsuitedCounts;
  /** The release the wave runs. */
  document: StudyDocument;
  wave: Wave;
}) {
  const adding = useFetcher<{ reason?: string }>();
  const [isMaking, setMaking] = useState(false);
  const needs = linkNeeds(document);
  const { participation } = document.settings;
  const add = () =>
    void adding.submit(
      { do: "add-link", wave: wave.id, label: `Link ${links.length + 1}` },
      { method: "post", encType: "application/json" },
    );
  return (
    <section aria-label="Entry links" className="mt-2.5 rounded-md border border-hairline bg-sheet px-4 pb-3 pt-1">
      {links.map((link) => (
        <LinkPanel
          key={link.token}
          link={link}
          address={`${origin}/join/${link.token}`}
          counts={counts[link.token] ?? { started: 0, finished: 0 }}
          codes={codes[link.token] ?? {}}
          unsuited={unsuited[link.token] ?? {}}
          document={document}
        />
      ))}
      {sets.map((set) => (
        <LinkSetPanel
          key={set.id}
          set={set}
          origin={origin}
          codes={codes[set.id] ?? {}}
          unsuited={unsuited[set.id] ?? {}}
          document={document}
        />
      ))}
      <div className="mt-3 flex gap-5">
        <AddLine says="Another link" onClick={add} />
        <AddLine says="Links for one person each" onClick={() => setMaking(true)} />
        <NewLinks wave={wave} open={isMaking} onOpenChange={setMaking} />
        <Link to="../privacy" className="ml-auto text-sm font-semibold text-plumage hover:underline">
          What is kept of participants
        </Link>
      </div>
      {adding.data?.reason && (
        <p role="alert" className="mt-1 text-sm text-alarm">
          {adding.data.reason}
        </p>
      )}
      <p className="mt-2 text-sm text-muted">
        Whoever may go on does so at the same computer
        {participation.elsewhere && ", or at another with the code they are given"}.
        {participation.others && " Someone else can start there as well."} With{" "}
        <span className="whitespace-nowrap font-mono text-xs">?participant=</span> and a name of theirs after it,
        whoever comes again is the same participant.
      </p>
      {needs.length > 0 && (
        <p className="mt-1 text-sm text-chestnut">
          A link needs {needs.join(" and ")} after it, for example{" "}
          <span className="font-mono text-xs">?{needs.map((need) => need.split(" or ")[0]).join("&")}</span>.
        </p>
      )}
    </section>
  );
}

type PanelProps = {
  link: EntryLink;
  address: string;
  counts: Counts;
  codes: CodesLeft[string];
  unsuited: UnsuitedCounts[string];
  document: StudyDocument;
};

function LinkPanel({ link, address, counts, codes, unsuited, document }: PanelProps) {
  const { code } = useStudy();
  const changing = useFetcher();
  const sent = changing.json as { open?: boolean } | undefined;
  const isOpen = sent?.open ?? link.open;
  const change = (what: { open?: boolean; label?: string }) =>
    void changing.submit(
      { do: "set-link", link: link.token, ...what },
      { method: "post", encType: "application/json" },
    );
  const copy = () =>
    copyText(address, "The link is copied.", "The browser blocked copying. Select the address and copy it.");
  return (
    <div role="group" aria-label={link.label} className="border-b border-hairline py-3" data-link={link.token}>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <span
          data-link-state={isOpen ? "open" : "closed"}
          className={`rounded-md px-2 text-xs font-semibold leading-5 ${isOpen ? "bg-chestnut-tint text-chestnut" : "border border-hairline text-muted"}`}
        >
          {isOpen ? "open" : "closed"}
        </span>
        <span className="w-32">
          <TextField
            label="Name of the link"
            value={link.label}
            problem={namedWithin(80)}
            onChange={(label) => change({ label: label.trim() })}
          />
        </span>
        <span className="select-all break-all font-mono text-xs text-muted" data-entry-link>
          {address}
        </span>
        <span className="flex">
          <IconButton icon={Copy} label="Copy the link" className="!text-plumage" onClick={copy} />
          <a
            href={address}
            target="_blank"
            rel="noreferrer"
            aria-label="Open the link"
            title="Open the link"
            className={`${buttonClass("quiet")} w-7 !px-0 !text-plumage`}
          >
            <ExternalLink size={16} aria-hidden="true" />
          </a>
        </span>
        <Link to={`/studies/${code}/poster/${link.token}`} className={`${buttonClass("quiet")} !text-plumage`}>
          <QrCode size={16} aria-hidden="true" />
          Poster
        </Link>
        <span className="ml-auto text-sm text-muted">
          {counts.started} started, {counts.finished} finished
          <Unsuited counts={unsuited} />
        </span>
        <Button icon={isOpen ? Lock : LockOpen} onClick={() => change({ open: !isOpen })}>
          {isOpen ? "Close the link" : "Open it again"}
        </Button>
      </div>
      <LinkSentence of={{ link: link.token }} asked={link.terms} codes={codes} document={document} />
      {!isOpen && (
        <p className="mt-1 text-sm text-chestnut">
          Closed: no one can begin with it. Sessions that have begun can go on.
        </p>
      )}
    </div>
  );
}
