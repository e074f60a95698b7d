import { CircleAlert, CircleCheck, Info, Play, TriangleAlert } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { requireStudy } from "~/app/account.server";
import { Miniature } from "~/app/compose/miniature";
import { NumberField } from "~/app/components/fields";
import { usePolled } from "~/app/components/use-polled";
import { useInBrowser } from "~/app/components/use-in-browser";
import { blockSource, shownTrial } from "~/app/compose/shown-trial";
import { Button } from "~/app/components/button";
import { When } from "~/app/components/dates";
import { RecordTable } from "~/app/components/table";
import { TimingReport } from "~/app/results/timing-report";
import { mediaUrlIn, useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import type { Finding } from "~/core/check/finding";
import { hasErrors, preflight } from "~/core/check/preflight";
import { ValuesNow } from "~/app/results/values-now";
import { TrackFigures } from "~/app/results/track-figures";
import { blocksInOrder, hasFollowing } from "~/core/design/lookup";
import { questionsInOrder } from "~/core/design/questions";
import { rehearsed } from "~/server/results/rehearsed";
import type { Route } from "./+types/rehearse";

export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code);
  return rehearsed(context.store, study, new URL(request.url).searchParams.get("session"));
}

/** The export's first columns (study to group) are the same in every row of one session; they are left out here. */
const sameInAll = 6;

export default function Rehearse({ loaderData }: Route.ComponentProps) {
  const { code, document, editor, view, look } = useStudy();
  const { search } = useLocation();
  const now = usePolled(`/studies/${code}/rehearsals${search}`, 1500, loaderData);
  const [tab, setTab] = useState<"records" | "values" | "answers" | "thresholds" | "timing" | "preflight">(
    blocksInOrder(document).length === 0 && questionsInOrder(document).length > 0 ? "answers" : "records",
  );
  const [trouble, setTrouble] = useState<string | null>(null);
  const navigate = useNavigate();
  const asks = questionsInOrder(document).length > 0;
  const findings = useMemo(() => preflight(document), [document]);
  const group = document.groups.find(({ id }) => id === plannedAssignment(document, view.participant).group)?.name;
  const errors = findings.filter(({ level }) => level === "error").length;
  const warnings = findings.filter(({ level }) => level === "warning").length;

  const play = async () => {
    // Opened at once, since browsers only let a press open a window.
    const tabOpened = window.open("about:blank", "_blank");
    setTrouble(null);
    if (!(await editor.saveNow())) {
      tabOpened?.close();
      return setTrouble("The study could not be saved, so it is not played. Try again.");
    }
    const response = await fetch(`/studies/${code}/rehearsals`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ participant: view.participant }),
    }).catch(() => null);
    if (!response?.ok || !tabOpened) {
      tabOpened?.close();
      const told = response?.status === 422 ? ((await response.json()) as { reason: string }).reason : null;
      return setTrouble(
        tabOpened
          ? (told ?? "The server cannot be reached. Try again.")
          : "The browser did not open a window. Allow it for this page, then try again.",
      );
    }
    tabOpened.location.href = ((await response.json()) as { address: string }).address;
    void navigate(".", { replace: true });
  };

  return (
    <div className="grid h-full grid-cols-2 small:h-auto small:grid-cols-1">
      <div className="min-w-0 overflow-auto border-r border-hairline p-4 pt-3">
        <div className="flex items-center gap-2">
          <Button icon={Play} look="primary" disabled={hasErrors(findings)} onClick={() => void play()}>
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
        <NextTrial />
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
        <h2 className="mt-4 text-xs font-semibold text-muted">Rehearsals</h2>
        {now.pilots.length === 0 && (
          <p className="mt-1 text-sm text-muted">None yet. Play the study to see its records here as they come in.</p>
        )}
        <ul className="mt-1">
          {now.pilots.map((pilot) => (
            <li key={pilot.id}>
              <button
                type="button"
                aria-pressed={pilot.id === now.chosen}
                onClick={() => void navigate(`?session=${pilot.id}`, { replace: true })}
                className={`grid h-[34px] w-full grid-cols-[1fr_auto_auto] items-center gap-3 border-b border-hairline px-2 text-left text-sm ${pilot.id === now.chosen ? "bg-plumage-tint" : "hover:bg-plumage-tint/50"}`}
              >
                <span>as participant {pilot.participant}</span>
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
              <ValuesNow watched={now.watched} />
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
              {now.timing ? (
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

/** The stage as the participant will see it, in the trial that is chosen on the ribbon. */
function NextTrial() {
  const { code, document, view } = useStudy();
  const inBrowser = useInBrowser();
  const blocks = blocksInOrder(document);
  const block = blocks.find(({ id }) => id === view.part) ?? blocks[0];
  const mediaUrl = useMemo(() => mediaUrlIn(code, document), [code, document]);
  const shown = useMemo(
    () => (block ? shownTrial(blockSource(document, block, view.participant), view.trial, null) : null),
    [document, block, view.participant, view.trial],
  );
  const scene = block?.scenes.find(({ id }) => id === block.answers[0]?.opensWith) ?? block?.scenes[0];
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(607);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  if (!block || !scene || !shown)
    return <p className="mt-3 text-muted">The study has no trials. Its pages can be played.</p>;
  return (
    <div ref={box} className="mt-3">
      <div className="outline-1 outline-muted/60 outline" style={{ height: width * 0.625 }}>
        {inBrowser && (
          <Miniature
            scene={scene}
            context={shown.context}
            mediaUrl={mediaUrl}
            color={document.settings.stageColor}
            width={width}
            height={width * 0.625}
          />
        )}
      </div>
      <p className="mt-2 flex items-center gap-2 text-sm text-muted">
        <span className="rounded-md bg-chestnut-tint px-1.5 font-mono text-xs leading-5 text-chestnut">pilot data</span>
        {shown.inWords} · {block.name} · {scene.name}
        {shown.levels && ` · ${shown.levels}`}
      </p>
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

const signs = {
  error: { icon: CircleAlert, color: "text-alarm" },
  warning: { icon: TriangleAlert, color: "text-chestnut" },
  note: { icon: Info, color: "text-muted" },
} as const;

function Findings({ findings }: { findings: Finding[] }) {
  const { code, look } = useStudy();
  const navigate = useNavigate();
  if (findings.length === 0)
    return (
      <p className="flex items-center gap-2 p-4 text-plumage">
        <CircleCheck size={16} aria-hidden="true" />
        Nothing to mend: every name is there, every scene ends, every right answer can be given.
      </p>
    );
  const go = ({ target }: Finding) => {
    if (target.pool) return look({ asked: "pools", pool: target.pool });
    if (!target.part) return void navigate(`/studies/${code}/plan`);
    const { scene, item, column, piece, rule } = target;
    look({
      part: target.part,
      trial: null,
      row: target.row ?? null,
      ...(rule ? { below: "rules" as const } : {}),
      selected: rule
        ? { kind: "rule", rule }
        : scene && item
          ? { kind: "item", scene, item }
          : scene
            ? { kind: "scene", scene }
            : column
              ? { kind: "column", column }
              : piece
                ? { kind: "piece", piece }
                : { kind: "nothing" },
    });
    void navigate(`/studies/${code}/compose`);
  };
  return (
    <ul>
      {findings.map((finding) => {
        const { icon: Icon, color } = signs[finding.level];
        return (
          <li
            key={finding.where + finding.message}
            className="grid grid-cols-[16px_1fr_auto] items-start gap-3 border-b border-hairline px-4 py-2.5"
          >
            <Icon size={16} role="img" aria-label={finding.level} className={`mt-0.5 ${color}`} />
            <span>
              <b>{finding.where}</b>
              <br />
              {finding.message}
            </span>
            <Button look="quiet" onClick={() => go(finding)}>
              Go there
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
