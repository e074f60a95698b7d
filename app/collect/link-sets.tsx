import { ChevronDown, ChevronRight, Copy, Download, Lock, LockOpen, RotateCw } from "lucide-react";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { toast } from "sonner";
import { Button, IconButton } from "~/app/components/button";
import { copyText } from "~/app/components/copy-text";
import { Dialog } from "~/app/components/dialog";
import { download } from "~/app/components/download";
import { namedWithin, TextField } from "~/app/components/fields";
import { Unsuited } from "~/app/collect/link-suited";
import { LinkSentence } from "~/app/collect/link-sentence";
import { sheetAsCsv } from "~/app/compose/table/sheets";
import { useStudy } from "~/app/editing/use-study";
import type { CodesLeft } from "~/server/ends";
import type { StudyDocument } from "~/core/design/document";
import type { UnsuitedCounts } from "~/server/unsuited";
import type { LinkSet, LinkState, PersonalLink } from "~/server/link-sets";

const asJson = { method: "post", encType: "application/json" } as const;
const inWords: Record<LinkState, string> = {
  unused: "unused",
  begun: "begun",
  finished: "finished",
  ended: "ended before the end",
};

/** Links for one person each: how many were used, what they ask, and each of them with how far its person is. */
export function LinkSetPanel({
  set,
  origin,
  codes,
  unsuited,
  document,
}: {
  set: LinkSet;
  origin: string;
  codes: CodesLeft[string];
  unsuited: UnsuitedCounts[string];
  document: StudyDocument;
}) {
  const { code } = useStudy();
  const changing = useFetcher();
  const [isOpened, setOpened] = useState(false);
  const sent = changing.json as { open?: boolean } | undefined;
  const isOpen = sent?.open ?? set.open;
  const { until } = set.terms;
  const isOver = until !== undefined && Date.parse(until.at) <= Date.now();
  const change = (what: { open?: boolean; label?: string }) =>
    void changing.submit({ do: "set-links", set: set.id, ...what }, asJson);
  const load = async (): Promise<PersonalLink[]> => {
    const answer = await fetch(`/studies/${code}/links/${set.id}`).catch(() => null);
    if (answer?.ok) return (await answer.json()) as PersonalLink[];
    toast.error("The links could not be loaded. Try again.");
    return [];
  };
  const addressOf = ({ token }: PersonalLink) => `${origin}/join/${token}`;
  const stateOf = ({ state, sitting }: PersonalLink) =>
    state === "unused" && isOver ? "expired" : `${sitting > 1 ? `sitting ${sitting}: ` : ""}${inWords[state]}`;
  const toCsv = async () => {
    const links = await load();
    if (links.length === 0) return;
    const rows = links.map((link) => [link.label, link.note, addressOf(link), stateOf(link)]);
    download(sheetAsCsv([["name", "note", "address", "state"], ...rows]), `${code}-${set.label}.csv`);
  };
  return (
    <div role="group" aria-label={set.label} className="border-b border-hairline py-3" data-link-set={set.id}>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <span
          className={`rounded-md px-2 font-mono text-xs leading-5 ${isOpen ? "bg-plumage-tint text-plumage" : "border border-hairline text-muted"}`}
        >
          {set.links} {set.links === 1 ? "link" : "links"}
        </span>
        <span className="w-48">
          <TextField
            label="Name of the links"
            value={set.label}
            problem={namedWithin(80)}
            onChange={(label) => change({ label: label.trim() })}
          />
        </span>
        <Button
          icon={isOpened ? ChevronDown : ChevronRight}
          look="quiet"
          className="!text-plumage"
          aria-expanded={isOpened}
          onClick={() => setOpened(!isOpened)}
        >
          One by one
        </Button>
        <Button icon={Download} look="quiet" className="!text-plumage" onClick={() => void toCsv()}>
          Links as CSV
        </Button>
        <span className="ml-auto text-sm text-muted">
          {set.begun} used, {set.finished} finished
          <Unsuited counts={unsuited} />
        </span>
        <Button icon={isOpen ? Lock : LockOpen} onClick={() => change({ open: !isOpen })}>
          {isOpen ? "Close the links" : "Open them again"}
        </Button>
      </div>
      <LinkSentence of={{ set: set.id }} asked={set.terms} codes={codes} document={document} />
      {!isOpen && (
        <p className="mt-1 text-sm text-chestnut">
          Closed: no one can begin with them. Sessions that have begun can go on.
        </p>
      )}
      {isOpened && <OneByOne key={set.begun} load={load} addressOf={addressOf} stateOf={stateOf} />}
    </div>
  );
}

type OneByOneProps = {
  load: () => Promise<PersonalLink[]>;
  addressOf: (link: PersonalLink) => string;
  stateOf: (link: PersonalLink) => string;
};

function OneByOne({ load, addressOf, stateOf }: OneByOneProps) {
  const [links, setLinks] = useState<PersonalLink[] | null>(null);
  const renewing = useFetcher();
  /** The one that is to have another address, once that was confirmed. */
  const [lost, setLost] = useState<PersonalLink | null>(null);
  const renew = (token: string) => {
    setLost(null);
    void renewing.submit({ do: "renew-link", link: token }, asJson);
  };
  useEffect(() => {
    let isHere = true;
    if (renewing.state === "idle") void load().then((loaded) => isHere && setLinks(loaded));
    return () => void (isHere = false);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- loaded anew when a link was made anew
  }, [renewing.state]);
  if (!links) return <p className="mt-1 text-sm text-muted">Loading …</p>;
  const hasNotes = links.some(({ note }) => note !== "");
  return (
    <div className="mt-2 max-h-[40vh] overflow-auto border border-hairline">
      <Dialog
        open={lost !== null}
        onOpenChange={() => setLost(null)}
        title={`Give ${lost?.label ?? ""} another address?`}
        description="For somebody who lost theirs, or where somebody else has it. The present one leads nowhere then; what was recorded by it stays, and is gone on with by the new one."
      >
        <div className="flex justify-end gap-2">
          <Button onClick={() => setLost(null)}>Not now</Button>
          <Button look="primary" onClick={() => lost && renew(lost.token)}>
            Give another
          </Button>
        </div>
      </Dialog>
      <table className="w-full text-sm">
        <thead className="sticky top-0 bg-sheet text-left text-xs text-muted">
          <tr className="h-7 [&>th]:border-b [&>th]:border-hairline [&>th]:px-2.5">
            <th scope="col">name</th>
            {hasNotes && <th scope="col">note</th>}
            <th scope="col">address</th>
            <th scope="col">state</th>
            <th scope="col">
              <span className="sr-only">What can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {links.map((link) => (
            <tr key={link.token} className="h-[30px] border-b border-hairline [&>td]:px-2.5">
              <td>{link.label}</td>
              {hasNotes && <td className="text-muted">{link.note}</td>}
              <td className="select-all break-all font-mono text-xs">{addressOf(link)}</td>
              <td className={link.state === "unused" ? "text-muted" : ""}>{stateOf(link)}</td>
              <td className="whitespace-nowrap text-right">
                <IconButton
                  icon={Copy}
                  label={`Copy the link of ${link.label}`}
                  onClick={() =>
                    copyText(
                      addressOf(link),
                      "The link is copied.",
                      "The browser blocked copying. Select the address and copy it.",
                    )
                  }
                />
                <IconButton
                  icon={RotateCw}
                  label={`Give ${link.label} another address`}
                  onClick={() => setLost(link)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
