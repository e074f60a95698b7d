import { useNavigate } from "react-router";
import { When } from "~/app/components/dates";
import { useStudy } from "~/app/editing/use-study";
import type { StudyDocument } from "~/core/design/document";
import type { Rehearsal } from "~/core/run/rehearsal";
import type { SessionLine } from "~/server/session-list";

/** How it was played, where that is not as participants play; empty where it is. */
function inWords(document: StudyDocument, { from, speed = 1, stepwise }: Rehearsal): string {
  const part = from && document.parts[from.part];
  return [
    ...(part ? [`from ${part.name}${part.kind === "block" && from.trial > 1 ? `, trial ${from.trial}` : ""}`] : []),
    ...(speed > 1 ? [`${speed} times as fast`] : []),
    ...(stepwise ? ["trial by trial"] : []),
  ].join(", ");
}

/** The newest rehearsals; one of them is looked at. */
export function RehearsalList({ pilots, chosen }: { pilots: SessionLine[]; chosen: string | null }) {
  const { document } = useStudy();
  const navigate = useNavigate();
  return (
    <>
      <h2 className="mt-4 text-xs font-semibold text-muted">Rehearsals</h2>
      {pilots.length === 0 && (
        <p className="mt-1 text-sm text-muted">None yet. Play the study to see its records here as they come in.</p>
      )}
      <ul className="mt-1">
        {pilots.map((pilot) => (
          <li key={pilot.id}>
            <button
              type="button"
              aria-pressed={pilot.id === chosen}
              onClick={() => void navigate(`?session=${pilot.id}`, { replace: true })}
              className={`grid h-[34px] w-full grid-cols-[auto_minmax(0,1fr)_auto_auto] items-center gap-3 border-b border-hairline px-2 text-left text-sm ${pilot.id === chosen ? "bg-plumage-tint" : "hover:bg-plumage-tint/50"}`}
            >
              <span>as participant {pilot.participant}</span>
              <span className="truncate text-xs text-muted">
                {pilot.rehearsal && inWords(document, pilot.rehearsal)}
              </span>
              <span className="font-mono text-xs text-muted">
                {pilot.trialsPlanned > 0 && `${pilot.trials} of ${pilot.trialsPlanned}`}
              </span>
              <span className="text-xs text-muted">
                {pilot.state === "finished" ? "finished" : <When iso={pilot.startedAt} />}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
