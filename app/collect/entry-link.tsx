import { Copy, ExternalLink } from "lucide-react";
import { Button, buttonClass } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import type { Participation } from "~/core/design/participation";
import type { StudyDocument } from "~/core/design/document";
import type { SessionLine } from "~/server/session-list";

/** The parameters a link needs for this study, as written in an address. */
export const linkNeeds = ({ allocation, groups }: StudyDocument): string[] => [
  ...(allocation.method === "by-parameter" && allocation.parameter
    ? [`${allocation.parameter.name}=${groups.map(({ id }) => allocation.parameter?.values[id] ?? "").join(" or ")}`]
    : []),
  ...allocation.strata.map(({ parameter, values }) => `${parameter}=${values.join(" or ")}`),
];

export function EntryLinkPanel({
  address,
  needs,
  participation,
  sessions,
}: {
  address: string;
  needs: string[];
  participation: Participation;
  sessions: SessionLine[];
}) {
  const copy = () =>
    copyText(address, "The link is copied.", "The browser blocked copying. Select the address and copy it.");
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
        Anyone with the link can take part, any number of times, and can continue where they left off on the same
        computer
        {participation.elsewhere && ", or on another one with their code"}.
        {participation.others && " Someone else can start there as well."} With{" "}
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
