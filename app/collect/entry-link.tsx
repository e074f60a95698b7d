import { Copy, ExternalLink, Lock, LockOpen } from "lucide-react";
import { Link, useFetcher } from "react-router";
import { Button, buttonClass } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { parameterStrata } from "~/core/design/allocation";
import type { Participation } from "~/core/design/participation";
import type { StudyDocument } from "~/core/design/document";
import type { EntryLink, Release } from "~/server/releases";

/** The parameters a link needs for this study, as written in an address. */
export const linkNeeds = ({ allocation, groups }: StudyDocument): string[] => [
  ...(allocation.method === "by-parameter" && allocation.parameter
    ? [`${allocation.parameter.name}=${groups.map(({ id }) => allocation.parameter?.values[id] ?? "").join(" or ")}`]
    : []),
  ...parameterStrata(allocation).map(({ parameter, values }) => `${parameter}=${values.join(" or ")}`),
];

export function EntryLinkPanel({
  address,
  needs,
  participation,
  counts,
  link,
  release,
  newest,
}: {
  address: string;
  needs: string[];
  participation: Participation;
  counts: { started: number; finished: number };
  link: EntryLink;
  /** The release the link leads to, and the newest one. */
  release: Release;
  newest: Release;
}) {
  const opening = useFetcher();
  const sent = opening.json as { open: boolean } | undefined;
  const isOpen = sent?.open ?? link.open;
  const copy = () =>
    copyText(address, "The link is copied.", "The browser blocked copying. Select the address and copy it.");
  return (
    <section aria-label="Entry link" className="rounded-md border border-hairline bg-sheet p-4">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <span
          data-link-state={isOpen ? "open" : "closed"}
          className={`rounded-md px-2 text-xs font-semibold leading-5 ${isOpen ? "bg-chestnut-tint text-chestnut" : "border border-hairline text-muted"}`}
        >
          {isOpen ? "open" : "closed"}
        </span>
        <b className="whitespace-nowrap">Link to release {release.number}</b>
        <span className="select-all break-all font-mono text-xs text-muted" data-entry-link>
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
          {counts.started} started, {counts.finished} finished
        </span>
        <Button
          icon={isOpen ? Lock : LockOpen}
          onClick={() =>
            void opening.submit({ link: link.token, open: !isOpen }, { method: "post", encType: "application/json" })
          }
        >
          {isOpen ? "Close the link" : "Open it again"}
        </Button>
      </div>
      <p className="mt-2 font-serif text-[17px] leading-[27px]">
        Anyone with the link can take part, any number of times, and can continue where they left off on the same
        computer
        {participation.elsewhere && ", or on another one with the code they are given"}.
        {participation.others && " Someone else can start there as well."} With{" "}
        <span className="whitespace-nowrap font-mono text-sm">?participant=</span> and a name of theirs behind it, a
        later sitting has the same number, group and order as the first.
      </p>
      <p className="mt-1 text-sm">
        <Link to="../privacy" className="font-semibold text-plumage hover:underline">
          What is kept of participants
        </Link>
        <span className="text-muted">, how long, and how it is removed</span>
      </p>
      {!isOpen && (
        <p className="mt-1 text-sm text-chestnut">
          Closed: no one can begin with it. Sessions that have begun can go on to their end.
        </p>
      )}
      {newest.number > release.number && (
        <p className="mt-1 text-sm text-chestnut">
          This link still runs release {release.number}. Release {newest.number} has a link of its own:{" "}
          {isOpen ? "close this one once that is given out" : "choose it on the left"}.
        </p>
      )}
      {needs.length > 0 && (
        <p className="mt-1 text-sm text-chestnut">
          The link needs {needs.join(" and ")} behind it, for example{" "}
          <span className="font-mono text-xs">?{needs.map((need) => need.split(" or ")[0]).join("&")}</span>.
        </p>
      )}
    </section>
  );
}
