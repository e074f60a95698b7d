import { ExternalLink, Play } from "lucide-react";
import { useMemo, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { askServer } from "~/app/ask-server";
import { requireStudy } from "~/app/study-access.server";
import { NumberField } from "~/app/components/fields";
import { usePolled } from "~/app/components/use-polled";
import { Button } from "~/app/components/button";
import { RecordTable } from "~/app/components/table";
import { Findings } from "~/app/rehearse/findings";
import { asParticipant, HowPlayed, useAsked } from "~/app/rehearse/how-played";
import { openByLink, tabName, tellTab, type TabTold } from "~/app/rehearse/in-tab";
import { NextTrial } from "~/app/rehearse/next-trial";
import { PlayedHere } from "~/app/rehearse/played-here";
import { RehearsalList } from "~/app/rehearse/rehearsal-list";
import { TimingReport } from "~/app/results/timing-report";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import { hasErrors, preflight } from "~/core/check/preflight";
import { ValuesNow } from "~/app/rehearse/values-now";
import { TrackFigures } from "~/app/results/track-figures";
import { blocksInOrder, hasFollowing } from "~/core/design/lookup";
import { questionsInOrder } from "~/core/design/questions";
import { rehearsed } from "~/server/results/rehearsed";
import type { Route } from "./+types/rehearse";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "rehearse");
  return rehearsed(context.store, study, new URL(request.url).searchParams.get("session"));
}

/** The export's first columns (study to group) are the same in every row of one session; they are left out here. */
const sameInAll = 7;

/** Begins a rehearsal of the study as it stands in the editor. */
async function begun(
  code: string,
  editor: ReturnType<typeof useStudy>["editor"],
  asked: ReturnType<typeof useAsked>,
): Promise<TabTold> {
  if (!(await editor.saveNow())) return { trouble: "The study could not be saved, so it is not played. Try again." };
  const answered = await askServer<{ address: string }>(`/studies/${code}/rehearsals`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(asked),
  });
  return answered.ok ? answered.data : { trouble: answered.reason };
}

export default function Rehearse({ loaderData }: Route.ComponentProps) {
  const { code, document, editor, view, look } = useStudy();
  const { search } = useLocation();
  const now = usePolled(`/studies/${code}/rehearsals${search}`, 1500, loaderData);
  const [tab, setTab] = useState<"records" | "values" | "answers" | "thresholds" | "timing" | "preflight">(
    blocksInOrder(document).length === 0 && questionsInOrder(document).length > 0 ? "answers" : "records",
  );
  const [trouble, setTrouble] = useState<string | null>(null);
  /** Where the rehearsal is played that stands in this page. */
  const [played, setPlayed] = useState<string | null>(null);
  const [chosen, choose] = useState(asParticipant);
  const asked = useAsked(chosen);
  const navigate = useNavigate();
  const asks = questionsInOrder(document).length > 0;
  const findings = useMemo(() => preflight(document), [document]);
  const group = document.groups.find(({ id }) => id === plannedAssignment(document, view.participant).group)?.name;
  const errors = findings.filter(({ level }) => level === "error").length;
  const warnings = findings.filter(({ level }) => level === "warning").length;

  const watched = now.pilots.find(({ id }) => id === now.chosen);
  const isFast = (watched?.rehearsal?.speed ?? 1) > 1;

  /** Starts a rehearsal of the study as it stands, and gives where it is played, or why it cannot be. */
  const begin = async (): Promise<TabTold> => {
    setTrouble(null);
    const told = await begun(code, editor, asked);
    if ("trouble" in told) setTrouble(told.trouble);
    else void navigate(".", { replace: true });
    return told;
  };
  const playHere = async () => {
    const told = await begin();
    if ("address" in told) setPlayed(told.address);
  };
  const playInTab = () => {
    const name = tabName();
    openByLink(`/studies/${code}/opens#${name}`);
    tellTab(name, begin());
  };

  return (
    <div className="grid h-full grid-cols-2 small:h-auto small:grid-cols-1">
      <div className="min-w-0 overflow-auto border-r border-hairline p-4 pt-3">
        <div className="flex items-center gap-2">
          <Button icon={Play} look="primary" disabled={hasErrors(findings)} onClick={() => void playHere()}>
            Play here
          </Button>
          <Button icon={ExternalLink} disabled={hasErrors(findings)} onClick={playInTab}>
            Play in a new tab
          </Button>
          <span className="ml-auto text-sm text-muted">as participant</span>
          <span className="w-16">
            <NumberField
              label="Participant"
              value={view.participant}
              whole
              least={1}
              onChange={(participant) => look({ participant, trial: null })}
            />
          </span>
          <span className="text-sm text-muted">{group}</span>
        </div>
        <HowPlayed chosen={chosen} onChange={choose} />
        {played === null ? <NextTrial /> : <PlayedHere key={played} address={played} onClose={() => setPlayed(null)} />}
        {hasErrors(findings) && (
          <p className="mt-2 text-alarm">
            Preflight found {errors === 1 ? "an error" : `${errors} errors`}. Mend {errors === 1 ? "it" : "them"} first;
            the list is at the right.
          </p>
        )}
        {trouble && (
          <p role="alert" className="mt-2 text-alarm">
            {trouble}
          </p>
        )}
        <RehearsalList pilots={now.pilots} chosen={now.chosen} />
      </div>
      <div className="flex min-w-0 flex-col bg-sheet">
        <div role="tablist" aria-label="About the rehearsal" className="flex h-[52px] shrink-0 items-center gap-1 px-4">
          <TabButton on={tab === "records"} onClick={() => setTab("records")}>
            Records
          </TabButton>
          <TabButton on={tab === "values"} onClick={() => setTab("values")}>
            Values
          </TabButton>
          {asks && (
            <TabButton on={tab === "answers"} onClick={() => setTab("answers")}>
              Answers
            </TabButton>
          )}
          {hasFollowing(document) && (
            <TabButton on={tab === "thresholds"} onClick={() => setTab("thresholds")}>
              Thresholds
            </TabButton>
          )}
          <TabButton on={tab === "timing"} onClick={() => setTab("timing")}>
            Timing
          </TabButton>
          <TabButton on={tab === "preflight"} onClick={() => setTab("preflight")}>
            Preflight{" "}
            {errors + warnings > 0 && (
              <span
                className={`ml-1 rounded-md px-1 font-mono text-xs ${errors > 0 ? "bg-alarm-tint text-alarm" : "bg-chestnut-tint text-chestnut"}`}
              >
                {errors + warnings}
              </span>
            )}
          </TabButton>
        </div>
        <div
          className="min-h-0 flex-1 overflow-auto border-t border-hairline"
          data-rehearsal-records={tab === "records" ? "" : undefined}
        >
          {tab === "records" ? (
            <RecordTable
              header={now.rows?.header.slice(sameInAll) ?? []}
              rows={now.rows?.rows.map((row) => row.slice(sameInAll)) ?? []}
              empty="Nothing is recorded yet. Play the study: its trials appear here while it is played, in the columns of the export."
            />
          ) : tab === "values" ? (
            now.watched ? (
              <ValuesNow
                key={now.chosen}
                watched={now.watched}
                session={watched?.state === "active" && watched.rehearsal ? watched.id : null}
              />
            ) : (
              <p className="p-4 text-muted">
                Play the study to see what its values are and what its rules do, as it is played.
              </p>
            )
          ) : tab === "answers" ? (
            <RecordTable
              header={now.answers?.header ?? []}
              rows={now.answers?.rows ?? []}
              empty="Nothing is answered yet. Play the study: what is answered on its pages appears here as it is exported."
            />
          ) : tab === "thresholds" ? (
            <div className="p-4">
              {now.thresholds.length > 0 ? (
                <TrackFigures tracks={now.thresholds} />
              ) : (
                <p className="text-muted">Play the study to see how its values follow the answers, trial by trial.</p>
              )}
            </div>
          ) : tab === "timing" ? (
            <div className="p-4">
              {isFast ? (
                <p className="text-muted">
                  It was played four times as fast, so that its timing says nothing about the study.
                </p>
              ) : now.timing ? (
                <TimingReport timing={now.timing} isOne />
              ) : (
                <p className="text-muted">Play the study to see how exactly its scenes were shown here.</p>
              )}
            </div>
          ) : (
            <Findings findings={findings} />
          )}
        </div>
      </div>
    </div>
  );
}

const TabButton = ({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) => (
  <button
    type="button"
    role="tab"
    aria-selected={on}
    onClick={onClick}
    className={`rounded-md px-2.5 py-1 text-sm ${on ? "bg-plumage-tint font-bold text-plumage" : "text-muted hover:text-ink"}`}
  >
    {children}
  </button>
);
