/**
 * Where somebody looked, sample by sample: times in milliseconds, in order; places in degrees of visual angle from the middle of
 * the stage, to the right and upwards. NaN where the eye was not seen. All columns are of one length.
 */
export type Gaze = { times: Float64Array; x: Float64Array; y: Float64Array };

/** Both eyes as they were recorded. */
export type TwoEyes = { left: Gaze; right: Gaze };

/** The mean of what was seen of two; NaN where neither was. */
export const meanSeen = (a: number, b: number): number => (Number.isNaN(a) ? b : Number.isNaN(b) ? a : (a + b) / 2);

/** The mean of the eyes that were seen, sample by sample; NaN where neither was. */
export function meanOfEyes({ left, right }: TwoEyes): Gaze {
  const mean = (a: Float64Array, b: Float64Array) => a.map((value, at) => meanSeen(value, b[at] ?? NaN));
  return { times: left.times, x: mean(left.x, right.x), y: mean(left.y, right.y) };
}

const isSeen = ({ x, y }: Gaze, at: number): boolean => !Number.isNaN(x[at] ?? NaN) && !Number.isNaN(y[at] ?? NaN);

/** The share of samples in which no eye was seen; 0 without samples. */
export function lostShare(gaze: Gaze): number {
  let lost = 0;
  for (let at = 0; at < gaze.times.length; at++) if (!isSeen(gaze, at)) lost++;
  return gaze.times.length === 0 ? 0 : lost / gaze.times.length;
}

/** Samples a second, by the middle one of the intervals; 0 for fewer than two samples. */
export function samplingRate({ times }: Gaze): number {
  if (times.length < 2) return 0;
  const intervals = Float64Array.from(
    { length: times.length - 1 },
    (_, at) => (times[at + 1] ?? 0) - (times[at] ?? 0),
  ).sort();
  return 1000 / (intervals[Math.floor(intervals.length / 2)] ?? Infinity);
}

/** Fills gaps of at most so many milliseconds, from the last sample seen to the next, along a straight line. */
export function interpolated(gaze: Gaze, longestMs: number): Gaze {
  const filled: Gaze = { times: gaze.times, x: gaze.x.slice(), y: gaze.y.slice() };
  if (longestMs <= 0) return filled;
  const { times } = gaze;
  let last = -1;
  for (let at = 0; at < times.length; at++) {
    if (!isSeen(gaze, at)) continue;
    const [from, to] = [times[last] ?? NaN, times[at] ?? NaN];
    if (last >= 0 && at - last > 1 && to - from <= longestMs)
      for (let gap = last + 1; gap < at; gap++) {
        const share = ((times[gap] ?? 0) - from) / (to - from);
        filled.x[gap] = (gaze.x[last] ?? 0) + share * ((gaze.x[at] ?? 0) - (gaze.x[last] ?? 0));
        filled.y[gap] = (gaze.y[last] ?? 0) + share * ((gaze.y[at] ?? 0) - (gaze.y[last] ?? 0));
      }
    last = at;
  }
  return filled;
}

/** Each sample as the median of so many around it (an odd number; 1 leaves them as they are); lost ones stay lost and do not count. */
export function smoothed(gaze: Gaze, samples: number): Gaze {
  if (samples < 3) return gaze;
  const half = Math.floor(samples / 2);
  const median = (column: Float64Array) =>
    column.map((value, at) => {
      if (Number.isNaN(value)) return value;
      const near = Array.from(column.subarray(Math.max(0, at - half), at + half + 1)).filter(
        (each) => !Number.isNaN(each),
      );
      near.sort((a, b) => a - b);
      const middle = (near.length - 1) / 2;
      return ((near[Math.floor(middle)] ?? value) + (near[Math.ceil(middle)] ?? value)) / 2;
    });
  return { times: gaze.times, x: median(gaze.x), y: median(gaze.y) };
}

/**
 * How fast the gaze moved at each sample, in degrees a second: from the first to the last sample seen within a window of so many
 * milliseconds around it. NaN where the sample or either end is lost.
 */
export function velocities(gaze: Gaze, windowMs: number): Float64Array {
  const { times, x, y } = gaze;
  const found = new Float64Array(times.length).fill(NaN);
  let from = 0;
  let to = 0;
  for (let at = 0; at < times.length; at++) {
    const now = times[at] ?? 0;
    while ((times[from] ?? 0) < now - windowMs / 2 && from < at) from++;
    while (to + 1 < times.length && (times[to + 1] ?? 0) <= now + windowMs / 2) to++;
    // Of a window that holds one sample alone, the neighbours tell.
    const [first, last] = [Math.min(from, Math.max(0, at - 1)), Math.max(to, Math.min(times.length - 1, at + 1))];
    const ms = (times[last] ?? 0) - (times[first] ?? 0);
    if (!isSeen(gaze, at) || ms <= 0) continue;
    found[at] = (Math.hypot((x[last] ?? NaN) - (x[first] ?? NaN), (y[last] ?? NaN) - (y[first] ?? NaN)) / ms) * 1000;
  }
  return found;
}
