import { firstSittingWith, seedWith } from "~/core/order/sittings";
import { useEffect, useRef, useState } from "react";
import { Button } from "~/app/components/button";
import { useStudy } from "~/app/editing/use-study";
import { plannedAssignment } from "~/core/allocate/allocate";
import type { PlannedTrial } from "~/core/compile/compile";
import type { Block } from "~/core/design/block";
import { sessionMachine } from "~/core/run/session-machine";
import type { TrialRecord } from "~/core/records/record";
import { sessionClock } from "~/player/clock";
import { RefreshWatch } from "~/player/display";
import type { MediaUrl } from "~/player/stage/context";
import { makeStage } from "~/player/stage/stage";
import "~/player/listeners-all";
import "~/player/stage/drawers-all";
import { listenForActs } from "~/player/acts";
import { doneInWords } from "~/core/describe/rules";
import { ruleName } from "~/core/rules/rule";
import { placedRule } from "./rules/places";
import { anyDoes, rulesInTrials } from "~/core/design/all-rules";
import { startOutside } from "~/player/outside";
import { playTrial } from "~/player/trial-loop";

/** Plays the shown trial once, full window, by the player's own code; nothing of it is kept. */
export function PlayTrial({
  block,
  trial,
  mediaUrl,
  onClose,
}: {
  block: Block;
  trial: PlannedTrial;
  mediaUrl: MediaUrl;
  onClose: () => void;
}) {
  const { code, document, view } = useStudy();
  const host = useRef<HTMLDivElement>(null);
  const [round, setRound] = useState(0);
  const [record, setRecord] = useState<TrialRecord | null>(null);
  useEffect(() => {
    const stage = host.current;
    if (!stage) return;
    // The button that started it must not take the keys.
    stage.parentElement?.focus();
    const playing = new AbortController();
    setRecord(null);
    const assignment = plannedAssignment(document, view.participant);
    const machine = sessionMachine(document, {
      participant: view.participant,
      entered: view.participant,
      ...assignment,
      sitting: firstSittingWith(document, block.id),
      seed: seedWith(document, block.id),
      parts: [{ kind: "block", part: block.id, brackets: [], trials: [trial], order: { way: "listed", breaks: [] } }],
      opening: 0,
      trialCount: 1,
      partCount: 1,
    });
    const asksOutside = anyDoes(rulesInTrials(document, block), "script", "ask");
    const root = makeStage(stage, document.settings.stageColor);
    void (async () => {
      const refresh = new RefreshWatch();
      await refresh.measure(12);
      const outside = asksOutside
        ? await startOutside(document, window.document, `/pages/design/${code}/services`)
        : null;
      playing.signal.addEventListener("abort", () => outside?.stop());
      const ended = await playTrial(machine.begin().state, block.id, trial, {
        machine,
        stage: { host: stage, root },
        clock: sessionClock(Date.now()),
        mediaUrl,
        refresh,
        signal: playing.signal,
        listenForActs,
        outside,
      });
      outside?.stop();
      const made = ended.records.find((each) => each.kind === "trial");
      if (!playing.signal.aborted && made?.kind === "trial") setRecord(made);
    })();
    return () => playing.abort();
  }, [code, document, view.participant, block, trial, mediaUrl, round]);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.key === "Escape") onClose();
    };
    addEventListener("keydown", keys, true);
    return () => removeEventListener("keydown", keys, true);
  }, [onClose]);
  return (
    <div
      role="dialog"
      aria-modal="true"
      aria-label="The trial being played"
      tabIndex={-1}
      className="fixed inset-0 z-50 outline-none"
    >
      <div ref={host} className="absolute inset-0" />
      {record && (
        <div
          className="absolute inset-0 grid place-items-center"
          style={{ background: document.settings.stageColor, color: document.settings.textColor }}
        >
          <div className="grid justify-items-center gap-4 text-[16px]">
            <p role="status" data-played>
              {block.answers.length === 0 && "The trial is over."}
              {record.answers.map(({ answer, given, outcome }) => (
                <span key={answer} className="block">
                  {block.answers.length > 1 && `${block.answers.find(({ id }) => id === answer)?.name}: `}
                  {outcome}
                  {given && `: ${given.value} after ${Math.round(given.rt)} ms`}
                </span>
              ))}
            </p>
            {record.fired && (
              <ul className="grid gap-0.5 text-[14px]" data-fired>
                {record.fired.map(({ rule, action, gave }, index) => {
                  const placed = placedRule(document, rule, block.id);
                  if (!placed) return null;
                  return (
                    <li key={index}>
                      {ruleName(placed.all, rule)}: {doneInWords(placed.rule.do[action], gave, { document, block })}
                    </li>
                  );
                })}
              </ul>
            )}
            <span className="flex gap-2">
              <Button look="primary" onClick={() => setRound(round + 1)}>
                Play it again
              </Button>
              <Button onClick={onClose}>Back to the figure</Button>
            </span>
          </div>
        </div>
      )}
      {!record && (
        <span className="absolute bottom-2 right-3 text-xs text-[#55635e]">Escape goes back; nothing is recorded</span>
      )}
    </div>
  );
}
