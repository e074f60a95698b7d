import { calibrated, eyes, type Calibration, type EyeSamples, type Eye, type Place, type PointLook } from "./calibrate";
import { meanSeen } from "./samples";

/**
 * How well an eye was tracked at a point (Holmqvist, Nyström & Mulvey, 2012), in degrees of visual angle: accuracy is how far the
 * mean gaze was from the point; precision the root mean square from sample to sample, and the standard deviation. `lost` is a share.
 */
export type EyeQuality = { accuracy: number; rms: number; sd: number; lost: number };
/** Of each eye and of both together, which is what gaze is taken to be; null where nothing was seen. */
export type Quality = Record<Eye | "both", EyeQuality | null>;
/** At a point also where its mean gaze was, from the point, in degrees to the right and upwards. */
export type PointQuality = Place & Record<Eye | "both", (EyeQuality & { off: Place }) | null>;
export type Validation = {
  points: PointQuality[];
  /** Over all points: means, and for accuracy that of the worst point beside it. */
  all: Quality;
  worst: number | null;
};

const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / values.length;
const none: EyeSamples = { x: [], y: [] };

/** Samples as they are by a calibration; those of an eye without one are not seen. Without any calibration, as they were recorded. */
function calibratedSamples(samples: EyeSamples, calibration: Calibration | null, eye: Eye): EyeSamples {
  if (calibration === null) return samples;
  const fit = calibration[eye];
  if (!fit) return { x: samples.x.map(() => NaN), y: samples.y.map(() => NaN) };
  const places = samples.x.map((x, at) => calibrated(fit, { x, y: samples.y[at] ?? NaN }));
  return { x: places.map(({ x }) => x), y: places.map(({ y }) => y) };
}

/** Sample by sample the mean of the eyes that were seen. */
function bothOf(left: EyeSamples, right: EyeSamples): EyeSamples {
  const mean = (a: readonly number[], b: readonly number[]) => a.map((value, at) => meanSeen(value, b[at] ?? NaN));
  return { x: mean(left.x, right.x), y: mean(left.y, right.y) };
}

/** How well an eye was tracked while a point was looked at; null where it was not seen at all. */
export function qualityOf({ x, y }: EyeSamples, point: Place, unitsPerDegree: number): PointQuality["both"] {
  const seen = x.flatMap((each, at) => {
    const other = y[at] ?? NaN;
    return Number.isNaN(each) || Number.isNaN(other) ? [] : [{ at, x: each, y: other }];
  });
  if (seen.length === 0) return null;
  const centre = { x: mean(seen.map((each) => each.x)), y: mean(seen.map((each) => each.y)) };
  const steps = seen.flatMap((each, index) => {
    const before = seen[index - 1];
    return before && before.at === each.at - 1 ? [(each.x - before.x) ** 2 + (each.y - before.y) ** 2] : [];
  });
  const spread = mean(seen.map((each) => (each.x - centre.x) ** 2 + (each.y - centre.y) ** 2));
  const off = { x: (centre.x - point.x) / unitsPerDegree, y: (centre.y - point.y) / unitsPerDegree };
  return {
    ...{ accuracy: Math.hypot(off.x, off.y), off },
    rms: steps.length === 0 ? 0 : Math.sqrt(mean(steps)) / unitsPerDegree,
    sd: Math.sqrt(spread) / unitsPerDegree,
    lost: 1 - seen.length / x.length,
  };
}

/** Says of each point, and of all, how well both eyes were tracked by a calibration. */
export function validate(
  looks: readonly PointLook[],
  calibration: Calibration | null,
  unitsPerDegree: number,
): Validation {
  const points = looks.map((look): PointQuality => {
    const [left, right] = eyes.map((eye) => calibratedSamples(look[eye], calibration, eye));
    const at = { x: look.x, y: look.y };
    const quality = (samples: EyeSamples = none) => qualityOf(samples, at, unitsPerDegree);
    return { ...at, left: quality(left), right: quality(right), both: quality(bothOf(left ?? none, right ?? none)) };
  });
  const over = (which: Eye | "both"): EyeQuality | null => {
    const known = points.flatMap((point) => point[which] ?? []);
    if (known.length === 0) return null;
    const of = (name: keyof EyeQuality) => mean(known.map((each) => each[name]));
    // A point at which nothing was seen is lost altogether.
    const lost = (known.length * of("lost") + (points.length - known.length)) / points.length;
    return { accuracy: of("accuracy"), rms: of("rms"), sd: of("sd"), lost };
  };
  const found = points.flatMap(({ both }) => (both ? [both.accuracy] : []));
  return {
    points,
    all: { left: over("left"), right: over("right"), both: over("both") },
    worst: found.length < points.length || found.length === 0 ? null : Math.max(...found),
  };
}

/** Whether gaze was found at each point, and in the mean within so many degrees. */
export const isGoodEnough = ({ all, worst }: Validation, degrees: number): boolean =>
  worst !== null && all.both !== null && all.both.accuracy <= degrees;
