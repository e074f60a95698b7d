import { emptyColumns, timedAnew, type SampleColumns } from "~/core/gaze/packed";
import type { Place } from "~/core/gaze/calibrate";
import type { Clock } from "../clock";
import { keptBridge } from "~/player/bridge/kept";
import { newOpening, patienceMs, SessionBridge, thousandth, within } from "~/player/bridge/session-bridge";
import { inStageUnits, onDisplay } from "./geometry";

/** Where samples come from during a session. */
export type GazeSource = {
  /** What is logged of it. */
  name: string;
  /** Whether it has to be calibrated. */
  isCalibrated: boolean;
  /** What there is to look at from now on, in stage units; for trackers that want to know. */
  look: (places: readonly Place[]) => void;
  /** Lets it go; what came last has been given by then. */
  stop: () => Promise<void>;
};
/** Takes pieces in their order, from the one after what is safe: at session times, in stage units. */
export type TakeGaze = (piece: number, samples: SampleColumns, error: number | null) => void;

/** The tracker of the paired bridge; null where there is none, or it cannot be reached. */
export async function trackerSource(
  session: string,
  clock: Clock,
  safe: () => number,
  take: TakeGaze,
  log: (what: "gaze" | "gaze-away", value?: string) => void,
): Promise<GazeSource | null> {
  const kept = keptBridge();
  if (!kept) return null;
  let name: string | null = null;
  const bridge = new SessionBridge(kept, {
    here: (link) => {
      name = link.devices.find(({ device }) => device.settings.kind === "tracker")?.device.name ?? null;
      if (name !== null) log("gaze", name);
    },
    away: () => log("gaze-away"),
    jumped: (by) => log("gaze", `clock jumped by ${by} ms`),
    start: (link) => {
      link.onGaze = (piece, samples) => {
        const error = bridge.own(samples.times.at(-1) ?? 0)?.uncertainty ?? null;
        take(
          piece,
          inStageUnits(timedAnew(samples, (time) => clock.at(bridge.own(time)?.at ?? 0))),
          error === null ? null : thousandth(error),
        );
      };
      return link.start(`${session} ${newOpening()}`, { session, have: safe() });
    },
  });
  // A marker line that does not answer takes its time to say so.
  await within(bridge.open(), 3 * patienceMs);
  if (name === null) {
    await bridge.stop();
    return null;
  }
  return {
    name,
    isCalibrated: false,
    look: (places) => bridge.link?.look(places.slice(0, 40).map((place) => ({ ...onDisplay(place), chance: 1 }))),
    stop: () => bridge.stop(),
  };
}

/** So many frames of the mouse are a piece. */
const framesOfPiece = 15;

/** The mouse taken for gaze, frame by frame, to try a study without a tracker. */
export function mouseSource(clock: Clock, safe: number, take: TakeGaze): GazeSource {
  let at: { x: number; y: number } | null = null;
  const move = ({ clientX, clientY }: PointerEvent) => (at = { x: clientX, y: clientY });
  addEventListener("pointermove", move);
  let [piece, frame] = [safe, 0];
  let rows: { time: number; x: number; y: number }[] = [];
  const hand = () => {
    if (rows.length === 0) return;
    const samples = emptyColumns(rows.length);
    rows.forEach(({ time, x, y }, index) => {
      samples.times[index] = time;
      samples.leftX[index] = samples.rightX[index] = x;
      samples.leftY[index] = samples.rightY[index] = y;
    });
    rows = [];
    take(++piece, samples, null);
  };
  const onFrame = (stamp: number) => {
    const unit = Math.min(innerWidth, innerHeight) / 100;
    rows.push({
      time: clock.at(stamp),
      x: at ? (at.x - innerWidth / 2) / unit : NaN,
      y: at ? -(at.y - innerHeight / 2) / unit : NaN,
    });
    if (rows.length >= framesOfPiece) hand();
    frame = requestAnimationFrame(onFrame);
  };
  frame = requestAnimationFrame(onFrame);
  return {
    name: "mouse",
    isCalibrated: true,
    look: () => undefined,
    stop: async () => {
      removeEventListener("pointermove", move);
      cancelAnimationFrame(frame);
      hand();
    },
  };
}
