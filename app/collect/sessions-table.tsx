import { useState, type ReactNode } from "react";
import { enoughScenes, manyLate } from "~/core/collect/live";
import { Leaving, LiveMessages, minutesInWords } from "./live-view";
import { Link, useFetcher } from "react-router";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import { conditionColor } from "~/app/ribbon/palette";
import { partsInOrder, trialsInBlock } from "~/core/design/lookup";
import { hasSittings } from "~/core/design/sittings";
import { shareOf } from "~/core/allocate/scheme";
import { hasPlace } from "~/core/order/place";
import type { StudyDocument } from "~/core/design/document";
import type { SessionCounts, SessionLine } from "~/server/session-list";
import type { LiveSummary } from "~/server/live";
import { Pages } from "~/app/components/pages";
import { CellFigure } from "./cell-figure";
import { KeptAside } from "./kept-aside";

/** Sessions, newest first: how far each is, and how it ended; a page of them at a time. */
export function Sessions({
  sessions,
  counts,
  target,
  document,
  page,
  pages,
  found,
  isSought,
  summary,
  filters,
  onPage,
}: {
  sessions: SessionLine[];
  counts: SessionCounts;
  /** So many finished sessions are wanted; undefined where that is not said. */
  target: number | undefined;
  document: StudyDocument;
  page: number;
  pages: number;
  /** How many there are of those that are looked for. */
  found: number;
  /** Only some are looked for. */
  isSought: boolean;
  summary: LiveSummary | null;
  filters: ReactNode;
  onPage: (page: number) => void;
}) {
  const parts = partsInOrder(document);
  const { may } = useStudy();
  // Where people come several times, they are counted by their first sitting.
  const comesAgain = hasSittings(document);
  const shares = document.groups.reduce((sum, group) => sum + shareOf(group), 0);
  const towards = comesAgain ? counts.firstSittings : counts.finished;
  return (
    <>
      {summary && <LiveMessages messages={summary.messages} />}
      <div className="mt-4 flex flex-wrap items-center gap-x-6 gap-y-1 px-0.5">
        <span>
          <b>{counts.finished} finished</b>{" "}
          <span className="text-muted">
            {target === undefined || comesAgain
              ? `of ${counts.started} started`
              : `of ${target}, ${counts.started} started`}
          </span>
        </span>
        {target !== undefined && comesAgain && (
          <span>
            <b>{towards}</b> <span className="text-muted">of {target} have done the first sitting</span>
          </span>
        )}
        {target !== undefined && (
          <span
            role="img"
            aria-label={`${towards} of ${target}`}
            className="h-2 w-[160px] overflow-hidden rounded-[2px] bg-track"
          >
            <span
              className="block h-full bg-plumage"
              style={{ width: `${Math.min(100, (100 * towards) / target)}%` }}
            />
          </span>
        )}
        {document.groups.map((group, index) => (
          <span key={group.id} className="flex items-center gap-1.5 text-sm">
            <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(index) }} />
            {group.name}{" "}
            <span className="font-mono text-xs">
              {counts.groups[group.id] ?? 0}
              {document.groups.length > 1 && target !== undefined && !comesAgain && (
                <span className="text-muted">{`/${Math.round((target * shareOf(group)) / shares)}`}</span>
              )}
            </span>
          </span>
        ))}
        <span className="ml-auto text-sm text-muted">
          {counts.brokenOff} broken off
          {counts.notTaken > 0 && `, ${counts.notTaken} screened out or declined`}
          {counts.doNotCount > 0 && `, ${counts.doNotCount} not counted`}
        </span>
        {summary?.minutes && <span className="text-sm text-muted">{minutesInWords(summary)}</span>}
      </div>
      {summary && <CellFigure counts={summary.cells} document={document} target={comesAgain ? undefined : target} />}
      {summary && <Leaving leaving={summary.leaving} document={document} />}
      <div className="flex flex-wrap items-center justify-between gap-x-4">
        {(counts.all > 0 || isSought) && filters}
        <span className="mt-2 flex items-center gap-3 text-sm text-muted">
          {isSought && `${found} of ${counts.all} sessions`}
          {pages > 1 && <Pages page={page} pages={pages} onPage={onPage} />}
        </span>
      </div>
      <div className="mt-2 overflow-x-auto">
        <table className="w-full border border-hairline bg-sheet text-left">
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
      </div>
      {may("leave-out") && sessions.some(({ pilot }) => !pilot) && (
        <p className="mt-2 px-0.5 text-sm text-muted">{excludedMeans(document)}</p>
      )}
      {sessions.length === 0 && isSought && (
        <p className="border border-t-0 border-hairline bg-sheet p-4 text-muted">No session is like that.</p>
      )}
      {sessions.length === 0 && !isSought && (
        <p className="border border-t-0 border-hairline bg-sheet p-4 text-muted">
          No one has taken part yet. Give participants the link above; their sessions appear here as they run.
        </p>
      )}
    </>
  );
}

/** What “do not count” does, by the study's own rule for places. */
const excludedMeans = ({ allocation }: StudyDocument): string =>
  `A session marked “do not count” is left out of Results and of the counts of finished sessions, and ${
    allocation.counts.excluded === "gives-back"
      ? "its place among groups and orders is given to somebody else"
      : "keeps its place among groups and orders"
  }. Its records stay and are exported, with counts = no. It can be counted again at any time.`;

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
    return {
      id: part.id,
      name: part.name,
      share,
      grow: part.kind === "block" ? Math.max(3, trials / 8) : 1,
    };
  });
  const live = session.state === "active";
  const present = bars.find(({ share }) => share < 1)?.id;
  const { code, may } = useStudy();
  const excluding = useFetcher();
  return (
    <tr
      className={`h-[34px] border-b border-hairline last:border-b-0 ${session.excluded ? "text-muted" : ""} ${live ? "bg-chestnut-tint/30" : ""}`}
      data-session-state={session.state}
    >
      <td className="whitespace-nowrap px-3 font-mono text-xs">
        {session.pilot ? (
          <Link to={`../sessions/${session.id}`} className="underline-offset-2 hover:underline">
            {`pilot, as ${session.participant}`}
          </Link>
        ) : hasPlace(session) ? (
          <Link to={`../sessions/${session.id}`} className="underline underline-offset-2" title="Open this session">
            {session.participant}
          </Link>
        ) : (
          <Link
            to={`../sessions/${session.id}`}
            className="underline underline-offset-2"
            title="No number: it has not come to where places are given. Open this session"
          >
            –
          </Link>
        )}
      </td>
      <td className="px-3">
        {at >= 0 && (
          <span className="flex items-center gap-1.5">
            <span aria-hidden="true" className="size-2.5 rounded-full" style={{ background: conditionColor(at) }} />
            {document.groups[at]?.name}
          </span>
        )}
      </td>
      <td className="px-3">
        <span
          role="img"
          aria-label={`${session.trials} of ${session.trialsPlanned} trials`}
          className="flex w-[240px] gap-0.5 narrow:w-[180px] tight:w-[140px]"
        >
          {bars.map(({ id, name, share, grow }) => (
            <span
              key={id}
              title={name}
              className="relative h-2 rounded-[2px] bg-track"
              style={{ flexGrow: grow, flexBasis: 6 }}
            >
              <span className="block h-full rounded-[2px] bg-plumage" style={{ width: `${100 * share}%` }} />
              {live && id === present && (
                <span
                  aria-hidden="true"
                  data-here={id}
                  className="absolute -top-1 h-4 w-0.5 bg-chestnut"
                  style={{ left: `${100 * share}%` }}
                />
              )}
            </span>
          ))}
        </span>
      </td>
      <td
        className={`whitespace-nowrap px-3 ${live ? "text-chestnut" : session.state === "broken off" ? "text-muted" : ""}`}
      >
        {live && !hasPlace(session)
          ? "has no place yet"
          : live
            ? `trial ${Math.min(session.trials + 1, session.trialsPlanned)} of ${session.trialsPlanned}`
            : session.state === "broken off" && !hasPlace(session)
              ? "broken off before it had a place"
              : session.state === "broken off"
                ? `broken off at trial ${session.trials + 1}`
                : session.state === "withdrawn"
                  ? `left the study${session.removed ? ", records removed" : ` after ${session.trials} trials`}`
                  : session.state === "screened-out"
                    ? "screened out"
                    : session.state === "declined"
                      ? "declined, nothing kept"
                      : "finished"}
        {session.keptAside > 0 && may("see-results") && (
          <>
            {", "}
            <KeptAside code={code} session={session.id} count={session.keptAside} />
          </>
        )}
        {session.full !== null && (
          <span className="text-alarm">{`, has sent ${Math.min(100, Math.floor(session.full * 100))} % of what a session may send`}</span>
        )}
        {session.excluded && ", does not count"}
        <Remarks session={session} isLive={live} />
      </td>
      <td className="whitespace-nowrap px-3 text-muted">
        <When iso={session.seenAt} />
      </td>
      <td className="whitespace-nowrap px-3 text-right">
        {session.sitting > 1 && <span className="mr-2 text-xs text-muted">sitting {session.sitting}</span>}
        {!session.pilot && may("keep-data") && (
          <Link
            to={`../privacy?who=${hasPlace(session) ? session.participant : session.id}`}
            className="mr-2 text-xs text-muted underline hover:text-ink"
            title="What is kept of this participant: to look at, to give to them, to delete"
          >
            data
          </Link>
        )}
        {!session.pilot && may("leave-out") && (
          <button
            type="button"
            className="mr-2 text-xs text-muted underline hover:text-ink"
            title={excludedMeans(document)}
            onClick={() =>
              void excluding.submit(
                { do: "exclude", session: session.id, excluded: !session.excluded },
                { method: "post", encType: "application/json" },
              )
            }
          >
            {session.excluded ? "count again" : "do not count"}
          </button>
        )}
        {session.pilot && may("rehearse") && <DeletePilot code={code} session={session.id} />}
        {session.pilot ? (
          <span className="rounded-md border border-dashed border-muted px-1.5 text-xs">pilot</span>
        ) : (
          <span className="text-xs text-muted">{session.release === null ? "" : `release ${session.release}`}</span>
        )}
      </td>
    </tr>
  );
}

/** What was noticed of a session beside how far it is. */
function Remarks({ session, isLive }: { session: SessionLine; isLive: boolean }) {
  const { attempt, lookedAway, scenes, late, waiting } = session;
  const remarks = [
    ...(isLive && attempt > 1 ? [`attempt ${attempt}`] : []),
    ...(waiting > 0 ? [`${waiting} more on their computer`] : []),
    ...(lookedAway > 0 ? [lookedAway === 1 ? "looked away once" : `looked away ${lookedAway} times`] : []),
  ];
  const isLate = scenes >= enoughScenes && late > manyLate * scenes;
  return (
    <span className="text-muted">
      {remarks.map((remark) => `, ${remark}`)}
      {isLate && <span className="text-chestnut">{`, ${((100 * late) / scenes).toFixed(1)} % late scenes`}</span>}
    </span>
  );
}

/** A rehearsal's records are the team's own: they are deleted when that is said twice. */
function DeletePilot({ code, session }: { code: string; session: string }) {
  const deleting = useFetcher();
  const [isAsked, setAsked] = useState(false);
  const remove = () =>
    void deleting.submit(
      { session },
      { method: "post", action: `/studies/${code}/privacy`, encType: "application/json" },
    );
  return (
    <button
      type="button"
      className="mr-2 text-xs text-muted underline hover:text-ink"
      disabled={deleting.state !== "idle"}
      onClick={() => (isAsked ? remove() : setAsked(true))}
      onBlur={() => setAsked(false)}
    >
      {isAsked ? "delete for good?" : "delete"}
    </button>
  );
}
