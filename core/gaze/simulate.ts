import { streamFor, type Stream } from "../random/stream";
import type { GazeEvents } from "./events";
import type { Gaze, TwoEyes } from "./samples";

/** Somebody who looks at things, simulated. Lengths in degrees of visual angle, times in milliseconds. */
export type Viewer = {
  seed: string;
  /** Samples a second. */
  rate: number;
  ms: number;
  /** What there is to look at, and how likely each is looked at next. */
  targets: readonly { x: number; y: number; chance: number }[];
  /** How long a fixation lasts, log-normally: its median, and the standard deviation of its logarithm. */
  fixationMs: number;
  fixationSpread: number;
  /** How far a saccade lands from its target, and how far the eye is off from sample to sample (standard deviations). */
  landing: number;
  noise: number;
  /** By how much the tracker comes to be off in a minute, to the right. */
  driftPerMinute: number;
  blinksPerMinute: number;
  /** The share of samples that get lost one by one. */
  lost: number;
  /** An eye that is tracked badly: five times the noise, and every third sample lost. */
  badEye: "left" | "right" | null;
};

export const plainViewer: Viewer = {
  ...{ seed: "viewer", rate: 500, ms: 20_000, fixationMs: 250, fixationSpread: 0.35, landing: 0.3, noise: 0.05 },
  ...{ driftPerMinute: 0, blinksPerMinute: 10, lost: 0.005, badEye: null },
  targets: [
    { x: -8, y: -2, chance: 2 },
    { x: 0, y: 0, chance: 1 },
    { x: 9, y: 3, chance: 2 },
    { x: 4, y: -6, chance: 1 },
  ],
};

/** What a simulated viewer did, as it was recorded and as it was. */
export type SimulatedGaze = TwoEyes & {
  pupil: { left: Float64Array; right: Float64Array };
  truth: GazeEvents & { blinks: { from: number; to: number }[] };
};

/** How long a saccade takes by its amplitude, on the main sequence (Carpenter, 1988). */
export const saccadeMs = (amplitude: number): number => 2.2 * amplitude + 21;
const blinkMs = 150;

/** Simulates what a tracker records of a viewer. The same viewer gives the same samples on any machine. */
export function simulateGaze(viewer: Viewer): SimulatedGaze {
  const course = courseOf(viewer, streamFor(viewer.seed, "course"));
  const count = Math.floor((viewer.ms * viewer.rate) / 1000);
  const times = Float64Array.from({ length: count }, (_, at) => (at * 1000) / viewer.rate);
  const eye = (which: "left" | "right") => eyeOf(viewer, which, times, course);
  const [left, right] = [eye("left"), eye("right")];
  return {
    ...{ left: left.gaze, right: right.gaze, pupil: { left: left.pupil, right: right.pupil } },
    truth: {
      fixations: course.rests.map(({ from, to, x, y }) => ({
        ...{ from, to, x, y },
        samples: Math.max(0, Math.floor((to * viewer.rate) / 1000) - Math.ceil((from * viewer.rate) / 1000) + 1),
      })),
      saccades: course.moves.map(({ from, to, fromX, fromY, toX, toY }) => {
        const amplitude = Math.hypot(toX - fromX, toY - fromY);
        return { from, to, amplitude, peak: (1.875 * amplitude * 1000) / (to - from) };
      }),
      blinks: course.blinks,
    },
  };
}

type Rest = { from: number; to: number; x: number; y: number };
type Move = { from: number; to: number; fromX: number; fromY: number; toX: number; toY: number };
type Course = { rests: Rest[]; moves: Move[]; blinks: { from: number; to: number }[] };

/** A standard normal number (Box & Muller, 1958). */
export const normal = (chance: Stream): number =>
  Math.sqrt(-2 * Math.log(1 - chance.unit())) * Math.cos(2 * Math.PI * chance.unit());

/** Where the eye rested and moved, without anything a tracker adds. */
function courseOf(viewer: Viewer, chance: Stream): Course {
  const { targets, ms } = viewer;
  const course: Course = { rests: [], moves: [], blinks: [] };
  const total = targets.reduce((sum, each) => sum + each.chance, 0);
  let at = { x: 0, y: 0 };
  let target = -1;
  for (let now = 0; now < ms;) {
    const lasts = viewer.fixationMs * Math.exp(viewer.fixationSpread * normal(chance));
    const rest: Rest = { from: now, to: Math.min(ms, now + lasts), ...at };
    course.rests.push(rest);
    if (chance.unit() < (viewer.blinksPerMinute * lasts) / 60_000 && lasts > 2 * blinkMs) {
      const from = now + (lasts - blinkMs) * chance.unit();
      course.blinks.push({ from, to: from + blinkMs });
    }
    // What is looked at is left for something else.
    let next = target;
    while (next === target && targets.length > 1) {
      let left = chance.unit() * total;
      next = targets.findIndex((each) => (left -= each.chance) < 0);
    }
    target = Math.max(0, next);
    const aim = targets[target] ?? { x: 0, y: 0 };
    const to = { x: aim.x + viewer.landing * normal(chance), y: aim.y + viewer.landing * normal(chance) };
    const from = rest.to;
    if (from >= ms) break;
    const end = from + saccadeMs(Math.hypot(to.x - at.x, to.y - at.y));
    course.moves.push({ from, to: end, fromX: at.x, fromY: at.y, toX: to.x, toY: to.y });
    at = to;
    now = end;
  }
  return course;
}

/** How far along a movement is: with the least jerk, from 0 to 1. */
export const alongJerkless = (share: number): number => share ** 3 * (10 - 15 * share + 6 * share ** 2);

function eyeOf(viewer: Viewer, which: "left" | "right", times: Float64Array, { rests, moves, blinks }: Course) {
  const chance = streamFor(viewer.seed, which);
  const isBad = viewer.badEye === which;
  const [noise, lost] = isBad ? [viewer.noise * 5, 1 / 3] : [viewer.noise, viewer.lost];
  const gaze: Gaze = { times, x: new Float64Array(times.length), y: new Float64Array(times.length) };
  const pupil = new Float64Array(times.length);
  let [rest, move, blink] = [0, 0, 0];
  for (let at = 0; at < times.length; at++) {
    const now = times[at] ?? 0;
    while (rest + 1 < rests.length && now >= (rests[rest + 1]?.from ?? 0)) rest++;
    while (move + 1 < moves.length && now > (moves[move]?.to ?? 0)) move++;
    while (blink + 1 < blinks.length && now > (blinks[blink]?.to ?? 0)) blink++;
    const [here, moving, closing] = [rests[rest], moves[move], blinks[blink]];
    const isMoving = moving !== undefined && now > moving.from && now < moving.to;
    const along = isMoving ? alongJerkless((now - moving.from) / (moving.to - moving.from)) : 0;
    const x = isMoving ? moving.fromX + along * (moving.toX - moving.fromX) : (here?.x ?? 0);
    const y = isMoving ? moving.fromY + along * (moving.toY - moving.fromY) : (here?.y ?? 0);
    const isClosed = closing !== undefined && now >= closing.from && now <= closing.to;
    // Drawn in any case, so that what is lost shifts nothing else.
    const [offX, offY, luck] = [noise * normal(chance), noise * normal(chance), chance.unit()];
    const isSeen = !isClosed && luck >= lost;
    gaze.x[at] = isSeen ? x + offX + (viewer.driftPerMinute * now) / 60_000 : NaN;
    gaze.y[at] = isSeen ? y + offY : NaN;
    pupil[at] = isSeen ? 3.5 + 0.3 * Math.sin(now / 2300) + 0.02 * normal(chance) : NaN;
  }
  return { gaze, pupil };
}
