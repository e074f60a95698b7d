import { interpolated, smoothed, velocities, type Gaze } from "./samples";

/** The eye rested: from its first sample to its last, where it was in the mean, in how many samples. */
export type Fixation = { from: number; to: number; x: number; y: number; samples: number };
/** The eye moved: how far, in degrees, and how fast at most, in degrees a second. */
export type Saccade = { from: number; to: number; amplitude: number; peak: number };
export type GazeEvents = { fixations: Fixation[]; saccades: Saccade[] };

/** How events are told from samples. Times in milliseconds, lengths in degrees of visual angle. */
export type EventSettings = {
  /** By velocity (I-VT) or by dispersion (I-DT), after Salvucci & Goldberg (2000). */
  by: "velocity" | "dispersion";
  /** Over so many degrees a second the eye moves (by velocity). */
  fastest: number;
  /** Velocity is told over a window of so long. */
  windowMs: number;
  /** Samples of a fixation lie within so many degrees, width and height together (by dispersion). */
  widest: number;
  /** Gaps of at most so long are filled. */
  gapMs: number;
  /** So many samples are smoothed by their median. */
  smoothing: number;
  /** Fixations with at most so long between them, and at most so far from each other, are one. */
  joinMs: number;
  joinDegrees: number;
  /** Shorter fixations are none. */
  leastMs: number;
};

export const defaultEvents: EventSettings = {
  ...{ by: "velocity", fastest: 30, windowMs: 20, widest: 1, gapMs: 75, smoothing: 3 },
  ...{ joinMs: 75, joinDegrees: 0.5, leastMs: 60 },
};

/** The settings in a sentence, as they stand under figures and in files. */
export function eventsInWords({
  by,
  fastest,
  windowMs,
  widest,
  gapMs,
  smoothing,
  joinMs,
  joinDegrees,
  leastMs,
}: EventSettings): string {
  const how =
    by === "velocity"
      ? `by velocity (I-VT): over ${fastest}°/s, told over ${windowMs} ms, is a saccade`
      : `by dispersion (I-DT): samples within ${widest}°, width and height together`;
  return [
    `Fixations ${how}; at least ${leastMs} ms`,
    gapMs > 0 ? `gaps up to ${gapMs} ms filled` : "no gaps filled",
    ...(smoothing >= 3 ? [`medians of ${smoothing} samples`] : []),
    joinMs > 0 ? `fixations within ${joinMs} ms and ${joinDegrees}° joined` : "none joined",
  ].join("; ");
}

/** Fixations and saccades of a recording, in their order. */
export function eventsIn(gaze: Gaze, settings: EventSettings = defaultEvents): GazeEvents {
  const clean = smoothed(interpolated(gaze, settings.gapMs), settings.smoothing);
  const speeds = velocities(clean, settings.windowMs);
  const rests =
    settings.by === "velocity" ? restsByVelocity(speeds, settings.fastest) : restsByDispersion(clean, settings);
  const fixations = joined(
    runsOf(rests).map(([from, to]) => fixationOf(clean, from, to)),
    settings,
  ).filter(({ from, to }) => to - from >= settings.leastMs);
  return { fixations, saccades: saccadesBetween(clean, speeds, rests) };
}

/** 1 where the eye rests, 0 where it moves, 2 where it was not seen. */
type Rests = Uint8Array;
const [moves, still, unseen] = [0, 1, 2];

const restsByVelocity = (speeds: Float64Array, fastest: number): Rests =>
  Uint8Array.from(speeds, (speed) => (Number.isNaN(speed) ? unseen : speed <= fastest ? still : moves));

function restsByDispersion({ times, x, y }: Gaze, { widest, leastMs }: EventSettings): Rests {
  const rests: Rests = Uint8Array.from(x, (value, at) =>
    Number.isNaN(value) || Number.isNaN(y[at] ?? NaN) ? unseen : moves,
  );
  for (let from = 0; from < times.length;) {
    if (rests[from] === unseen) {
      from++;
      continue;
    }
    let [left, right, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
    let to = from;
    for (; to < times.length && rests[to] !== unseen; to++) {
      const [nextLeft, nextRight] = [Math.min(left, x[to] ?? 0), Math.max(right, x[to] ?? 0)];
      const [nextLow, nextHigh] = [Math.min(low, y[to] ?? 0), Math.max(high, y[to] ?? 0)];
      if (nextRight - nextLeft + nextHigh - nextLow > widest) break;
      [left, right, low, high] = [nextLeft, nextRight, nextLow, nextHigh];
    }
    const isLong = (times[to - 1] ?? 0) - (times[from] ?? 0) >= leastMs;
    if (isLong) rests.fill(still, from, to);
    from = isLong ? to : from + 1;
  }
  return rests;
}

/** Stretches of rest, as first and last index. */
function runsOf(rests: Rests): [number, number][] {
  const runs: [number, number][] = [];
  for (let at = 0; at < rests.length; at++) {
    if (rests[at] !== still) continue;
    const last = runs.at(-1);
    if (last && last[1] === at - 1) last[1] = at;
    else runs.push([at, at]);
  }
  return runs;
}

function fixationOf({ times, x, y }: Gaze, from: number, to: number): Fixation {
  let [sumX, sumY] = [0, 0];
  for (let at = from; at <= to; at++) {
    sumX += x[at] ?? 0;
    sumY += y[at] ?? 0;
  }
  const samples = to - from + 1;
  return { from: times[from] ?? 0, to: times[to] ?? 0, x: sumX / samples, y: sumY / samples, samples };
}

/** Fixations that a blink, or a sample over the threshold, has cut in two are one. */
function joined(fixations: readonly Fixation[], { joinMs, joinDegrees }: EventSettings): Fixation[] {
  const whole: Fixation[] = [];
  for (const next of fixations) {
    const last = whole.at(-1);
    const isOne =
      last !== undefined &&
      next.from - last.to <= joinMs &&
      Math.hypot(next.x - last.x, next.y - last.y) <= joinDegrees;
    if (!isOne) {
      whole.push(next);
      continue;
    }
    const samples = last.samples + next.samples;
    whole[whole.length - 1] = {
      ...{ from: last.from, to: next.to, samples },
      x: (last.x * last.samples + next.x * next.samples) / samples,
      y: (last.y * last.samples + next.y * next.samples) / samples,
    };
  }
  return whole;
}

/** Stretches in which the eye moved, was seen all the while, and rested before and after. */
function saccadesBetween({ times, x, y }: Gaze, speeds: Float64Array, rests: Rests): Saccade[] {
  const saccades: Saccade[] = [];
  for (let at = 1; at < rests.length; at++) {
    if (rests[at] !== moves || rests[at - 1] !== still) continue;
    let to = at;
    let peak = 0;
    for (; to < rests.length && rests[to] === moves; to++) peak = Math.max(peak, speeds[to] ?? 0);
    if (to < rests.length && rests[to] === still)
      saccades.push({
        ...{ from: times[at - 1] ?? 0, to: times[to] ?? 0, peak },
        amplitude: Math.hypot((x[to] ?? 0) - (x[at - 1] ?? 0), (y[to] ?? 0) - (y[at - 1] ?? 0)),
      });
    at = to;
  }
  return saccades;
}
