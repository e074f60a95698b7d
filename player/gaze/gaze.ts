import { unitsPerDegree as perDegree, usualViewing } from "~/core/design/visual-angle";
import type { GazeSettings, Settings } from "~/core/design/settings";
import {
  calibrate,
  pointsOf,
  shareSeen,
  validationPoints,
  type Calibration,
  type Place,
  type PointLook,
} from "~/core/gaze/calibrate";
import { isGoodEnough, validate, type Validation } from "~/core/gaze/validate";
import { shuffled } from "~/core/random/shuffle";
import { streamFor } from "~/core/random/stream";
import type { Id } from "~/core/values/ref";
import type { Clock } from "../clock";
import { ask, make, say } from "../pages/page";
import type { SessionLog } from "../session-log";
import type { SceneLayer } from "../stage/scene-layer";
import { patienceMs, thousandth, within } from "~/player/bridge/session-bridge";
import "./gaze.css";
import { halfStage, placeOf } from "./geometry";
import { LastSamples, lookAtPoints } from "./points";
import { GazeRecorder } from "./recorder";
import { showResult } from "./result-page";
import { mouseSource, trackerSource, type GazeSource } from "./source";

/** Records where the participant looks during a session. */
export type GazeRun = {
  /**
   * Shows what has to be shown before the next trial, if anything: a calibration, or a check of one. `come` makes way for it, `until`
   * waits for it or for the participant to leave for good.
   */
  before: (
    trialsDone: number,
    come: () => void,
    until: (over: Promise<unknown>) => Promise<"over" | "leave">,
  ) => Promise<"over" | "leave">;
  /**
   * Takes where the items of a trial’s scenes are, while nothing is timed yet; what it gives back is called as a scene comes on, and
   * tells trackers what there is to look at.
   */
  scenes: (layers: ReadonlyMap<Id, Pick<SceneLayer, "items">>) => (scene: Id) => void;
  /** Waits until what came last is safe, as far as the server answers. */
  stop: () => Promise<void>;
};

/** What is acknowledged of the last samples is waited for so long; the bridge keeps them in any case. */
const lastMs = 15_000;
const shortened = (_: string, value: unknown) => (typeof value === "number" ? thousandth(value) : value);

/** Begins to record; a tracker is looked for, or the mouse is taken where nobody takes part in earnest. */
export async function startGaze(
  { gaze: asked, viewing = usualViewing }: Pick<Settings, "gaze" | "viewing">,
  session: string,
  secret: string,
  log: SessionLog,
  clock: Clock,
  isRehearsal: boolean,
): Promise<GazeRun | null> {
  if (!asked) return null;
  const gaze: GazeSettings = asked;
  const unitsPerDegree = perDegree(viewing) ?? 1;
  const recorder = new GazeRecorder(secret);
  const last = new LastSamples();
  await recorder.open().catch(() => undefined);
  const take: Parameters<typeof trackerSource>[3] = (piece, samples, error) => {
    last.take(samples);
    recorder.take(piece, samples, error);
  };
  const tell = (what: "gaze" | "gaze-away", value?: string) => log.add(what, value);
  const reach = () => trackerSource(session, clock, () => recorder.through, take, tell);
  const mouse = () => {
    tell("gaze", "mouse");
    return mouseSource(clock, recorder.through, take);
  };
  let source: GazeSource | null = await reach();
  let isGivenUp = false;
  if (!source && isRehearsal) source = mouse();
  let looks: PointLook[] = [];
  let [isReady, checkedAt] = [false, 0];

  const host = make("div", "gaze-setup");
  const onPoints = (points: readonly Place[]) =>
    lookAtPoints(host, points, gaze, last, unitsPerDegree, (place) => source?.look([place]));

  /** Without a tracker nothing is gone on with unless somebody says so. */
  async function withSource(): Promise<GazeSource | null> {
    while (!source && !isGivenUp) {
      const sentences = [
        "This study records where the participant looks, but no eye tracker is reached from this computer.",
        "Start the bridge with ./lapwing bridge, add the tracker under Collect, in the laboratory, and look again.",
      ];
      const what = await ask(
        host,
        sentences,
        ["Look again", "Take the mouse for gaze", "Go on without"],
        "No eye tracker",
      );
      if (what === 0) source = await reach();
      else if (what === 1) source = mouse();
      else {
        isGivenUp = true;
        tell("gaze", "none");
      }
    }
    return source;
  }

  async function eyesSeen(): Promise<void> {
    const page = make("div", "page gaze-page");
    const says = make("p", "gaze-says", "");
    says.setAttribute("role", "status");
    const bars = make("div", "gaze-eyes");
    const button = make("button", "", "Calibrate");
    button.type = "button";
    const row = make("div", "buttons");
    row.append(button);
    page.append(make("h1", "", "Sit comfortably, and look at this screen"), bars, says, row);
    host.replaceChildren(page);
    const draw = () => {
      const { left, right, distance } = last.of(2000);
      const shares = { left: shareSeen(left), right: shareSeen(right) };
      bars.replaceChildren(
        ...(["left", "right"] as const).map((eye) => {
          const one = make("div", shares[eye] > 0.5 ? "gaze-eye seen" : "gaze-eye");
          one.append(make("b", "", eye === "left" ? "L" : "R"));
          one.append(make("span", "", `${Math.round(shares[eye] * 100)} %`));
          return one;
        }),
      );
      const isBoth = shares.left > 0.5 && shares.right > 0.5;
      const planned = Math.round(viewing.distanceCm);
      says.textContent =
        (isBoth ? "Both eyes are seen." : shares.left + shares.right > 0.5 ? "One eye is seen." : "No eye is seen.") +
        (distance === null ? "" : ` They are ${distance.toFixed(0)} cm away; the study is made for ${planned} cm.`);
    };
    draw();
    const timer = setInterval(draw, 250);
    button.focus({ preventScroll: true });
    await new Promise((resolve) => button.addEventListener("click", resolve, { once: true }));
    clearInterval(timer);
  }

  async function calibrateAll(): Promise<void> {
    const half = halfStage();
    // In an order that nobody foresees, and another one each time.
    const chance = streamFor(session, "calibration", clock.now());
    const points = shuffled(pointsOf(gaze.points, half), chance);
    const others = validationPoints(half);
    looks = await onPoints(points);
    for (;;) {
      const calibration: Calibration = calibrate(looks);
      logged("gaze-calibration", calibration);
      const found = validate(await onPoints(others), calibration, unitsPerDegree);
      logged("gaze-validation", found);
      const verdict = await showResult(host, found, half, {
        asked: gaze.worstDegrees,
        distance: last.of(1000).distance,
        counts: `${points.length} ${points.length === 1 ? "point" : "points"}, then ${others.length} others to check`,
      });
      if (verdict === "go-on") return;
      if (verdict === "all") looks = await onPoints(points);
      else {
        // The point of the calibration that lies nearest to the one that was off.
        const off = others[verdict.point] ?? { x: 0, y: 0 };
        const away = points.map(({ x, y }) => Math.hypot(x - off.x, y - off.y));
        const index = away.indexOf(Math.min(...away));
        const [again] = await onPoints(points.slice(index, index + 1));
        if (again) looks = looks.with(index, again);
      }
    }
  }

  /** One point in the middle: whether what was calibrated still holds. */
  async function holds(): Promise<boolean> {
    const found: Validation = validate(await onPoints([{ x: 0, y: 0 }]), calibrate(looks), unitsPerDegree);
    logged("gaze-validation", found);
    return isGoodEnough(found, gaze.worstDegrees);
  }

  const logged = (what: "gaze-calibration" | "gaze-validation", value: Calibration | Validation) =>
    log.add(what, JSON.stringify(value, shortened));

  const isDue = (trialsDone: number): boolean => {
    if (isGivenUp || (source?.isCalibrated && isReady)) return false;
    if (!source || !isReady) return true;
    return gaze.checkedAfter !== undefined && trialsDone - checkedAt >= gaze.checkedAfter;
  };
  async function setUp(): Promise<void> {
    const found = await withSource();
    if (!found) return;
    if (!found.isCalibrated) {
      if (!isReady) await eyesSeen();
      if (!isReady || !(await holds())) await calibrateAll();
    }
    isReady = true;
  }

  return {
    before: async (trialsDone, come, until) => {
      if (!isDue(trialsDone)) return "over";
      come();
      document.body.append(host);
      const how = await until(setUp());
      host.remove();
      checkedAt = trialsDone;
      return how;
    },
    scenes: (layers) => {
      const places = new Map(
        [...layers].map(([id, { items }]) => [id, [...items.values()].filter(({ hidden }) => !hidden).map(placeOf)]),
      );
      return (scene) => {
        const there = places.get(scene) ?? [];
        // After the frame is done: this is nothing that it waits for.
        if (there.length > 0) setTimeout(() => source?.look(there));
      };
    },
    stop: async () => {
      await within(Promise.resolve(source?.stop()), patienceMs);
      if (recorder.isWaiting) {
        document.body.append(host);
        host.replaceChildren();
        say(host, ["What the eye tracker recorded is being sent."]);
      }
      await within(recorder.drained(), lastMs);
      host.remove();
    },
  };
}
