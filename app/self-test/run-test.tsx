import { useEffect, useRef, useState } from "react";
import { compilePlanned } from "~/core/compile/planned";
import type { Id } from "~/core/values/ref";
import { sessionMachine } from "~/core/run/session-machine";
import { quantile, TimingGatherer } from "~/core/timing/report";
import { verdict } from "~/core/timing/verdict";
import { selfTestStudy, type ComputerResult, type Square } from "~/core/timing/self-test";
import { sessionClock } from "~/player/clock";
import { RefreshWatch } from "~/player/display";
import { makeStage } from "~/player/stage/stage";
import "~/player/listeners-all";
import "~/player/stage/drawers-all";
import { playTrial } from "~/player/trial-loop";

const corners: Record<Square["corner"], React.CSSProperties> = {
  "upper-left": { top: 0, left: 0 },
  "upper-right": { top: 0, right: 0 },
  "lower-left": { bottom: 0, left: 0 },
  "lower-right": { bottom: 0, right: 0 },
};

/** Plays scenes and asks for keys over the whole window, by the player's own code, and gives what came out. */
export function RunTest({
  seconds,
  square,
  onDone,
}: {
  seconds: number;
  square: Square | null;
  onDone: (result: ComputerResult | null) => void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const light = useRef<HTMLDivElement>(null);
  const [left, setLeft] = useState(seconds);
  const done = useRef(onDone);
  done.current = onDone;
  useEffect(() => {
    const stage = host.current;
    if (!stage) return;
    // The button that started the test would take the space bar between two trials, and start it anew.
    stage.parentElement?.focus();
    const stopped = new AbortController();
    const delays: number[] = [];
    const key = (event: KeyboardEvent) => {
      if (event.key === "Escape") stopped.abort();
      else if (!event.repeat) delays.push(performance.now() - event.timeStamp);
    };
    addEventListener("keydown", key, true);
    void run(stage, light.current, seconds, stopped.signal, setLeft).then((played) => {
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
      done.current(played && { ...played, ...keysOf(delays), square });
    });
    return () => {
      removeEventListener("keydown", key, true);
      stopped.abort();
    };
  }, [seconds, square]);
  return (
    <div
      role="dialog"
      aria-modal="true"
      aria-label="The self-test running"
      tabIndex={-1}
      className="fixed inset-0 z-50 bg-black outline-none"
    >
      <div ref={host} className="absolute inset-0" />
      {square && (
        <div
          ref={light}
          data-light
          className="absolute"
          style={{ ...corners[square.corner], width: square.side, height: square.side, background: "#000000" }}
        />
      )}
      <span className="absolute inset-x-0 bottom-2 text-center text-xs text-[#9aa6a2]" aria-live="off">
        {left} s to go. Press the space bar at the ring; Escape stops.
      </span>
    </div>
  );
}

async function run(
  stage: HTMLElement,
  light: HTMLElement | null,
  seconds: number,
  signal: AbortSignal,
  tellLeft: (seconds: number) => void,
): Promise<Omit<ComputerResult, "keys" | "keyDelay" | "square"> | null> {
  const study = selfTestStudy(String(Date.now()));
  const machine = sessionMachine(study, compilePlanned(study, 1));
  const root = makeStage(stage, study.settings.stageColor);
  const refresh = new RefreshWatch();
  await refresh.measure();
  const flash = Object.values(study.parts).flatMap((part) =>
    part.kind === "block" ? part.scenes.filter(({ name }) => name === "flash").map(({ id }) => id) : [],
  )[0];
  const onScene = (scene: Id | null) => light?.style.setProperty("background", scene === flash ? "#ffffff" : "#000000");
  const timing = new TimingGatherer();
  const began = performance.now();
  for (let step = machine.begin(); !signal.aborted;) {
    const todo = step.commands.find(({ kind }) => kind === "prepare-trial");
    const passed = (performance.now() - began) / 1000;
    tellLeft(Math.max(0, Math.ceil(seconds - passed)));
    if (todo?.kind !== "prepare-trial" || passed >= seconds) break;
    const ended = await playTrial(step.state, todo.part, todo.trial, {
      machine,
      stage: { host: stage, root },
      clock: sessionClock(Date.now()),
      mediaUrl: () => null,
      refresh,
      onScene,
      signal,
    });
    for (const record of ended.records)
      if (record.kind === "trial")
        timing.add({ session: "test", participant: 1, browser: navigator.userAgent, display: null }, study, record);
    step = ended.step;
  }
  if (signal.aborted) return null;
  const report = timing.report();
  return {
    browser: navigator.userAgent,
    refreshHz: Math.round(100_000 / refresh.frameMs) / 100,
    refreshSd: Math.round(refresh.spread * 1000) / 1000,
    window: `${innerWidth} × ${innerHeight}${devicePixelRatio === 1 ? "" : ` @${devicePixelRatio}`}`,
    isolated: crossOriginIsolated,
    scenes: report.count,
    exact: report.exact,
    late: report.lateByOne + report.lateByMore,
    worstFrames: report.sessions[0]?.worst ?? 0,
    verdict: verdict(report),
  };
}

function keysOf(delays: number[]): Pick<ComputerResult, "keys" | "keyDelay"> {
  const sorted = delays.toSorted((a, b) => a - b);
  const hundredth = (ms: number) => Math.round(ms * 100) / 100;
  return {
    keys: sorted.length,
    keyDelay:
      sorted.length === 0 ? null : { median: hundredth(quantile(sorted, 0.5)), p99: hundredth(quantile(sorted, 0.99)) },
  };
}
