import normalLogCdf from "@stdlib/stats-base-dists-normal-logcdf";
import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";
import { deviation, mean } from "../stats/describe";
import type { Cell } from "../values/data-column";
import { bandInWords, type Band, type Norm, type NormValues } from "./norm";

/** How a raw score stands in a norm sample; null where that cannot be told. */
export type NormStanding = {
  /** Percentile rank, 0 to 100, in the direction the sample states. */
  percentile: number | null;
  /** In standard deviations, in the same direction; 50 + 10 z; 1 to 9. */
  z: number | null;
  t: number | null;
  stanine: number | null;
  /** The 95 % interval in raw scores. */
  from: number | null;
  to: number | null;
  /** The band that was read, or why none was. */
  band: string;
};

const none = (band: string): NormStanding => ({
  ...{ percentile: null, z: null, t: null, stanine: null, from: null, to: null },
  band,
});

const z95 = 1.959963984540054;
/** Cumulative percentages between stanines (4, 7, 12, 17, 20, 17, 12, 7, 4). */
const stanineEnds = [4, 11, 23, 40, 60, 77, 89, 96];

/**
 * How a score stands. `cellOf` tells what is known of the person, by a column of sessions; `session` is left out of a sample that is
 * made of the study's own. Whoever belongs to no band, or lies beyond a published table, is said to: nothing is guessed.
 */
export function standingIn(
  norm: Norm,
  raw: number | null,
  cellOf: (column: string) => Cell,
  session: string | null = null,
): NormStanding {
  if (raw === null) return none("no score");
  const found = bandFor(norm, cellOf);
  if (typeof found === "string") return none(found);
  const name = bandInWords(found) || "everybody";
  const sign = norm.better === "higher" ? 1 : -1;
  const told = readIn(found.values, raw, sign, session);
  if (typeof told === "string") return none(`${name}: ${told}`);
  const { percentile, z, spread } = told;
  return {
    percentile,
    z,
    t: z === null ? null : 50 + 10 * z,
    stanine: percentile === null ? null : 1 + stanineEnds.filter((end) => percentile >= end).length,
    ...intervalOf(norm, raw, spread),
    band: name,
  };
}

/** The band somebody belongs to, or why there is none. */
function bandFor({ bands }: Norm, cellOf: (column: string) => Cell): Band | string {
  const unknown = new Set<string>();
  const fits = (band: Band) =>
    band.where.every(({ column, from = -Infinity, to = Infinity, is }) => {
      const cell = cellOf(column);
      if (cell === null || cell === "") {
        unknown.add(column);
        return false;
      }
      if (is !== undefined) return String(cell).trim().toLowerCase() === is.trim().toLowerCase();
      const value = Number(cell);
      return value >= from && value <= to;
    });
  const found = bands.filter(fits);
  if (found.length === 1) return found[0] as Band;
  if (found.length > 1) return `in ${found.length} bands`;
  return unknown.size > 0 ? `not known: ${[...unknown].join(", ")}` : "outside its bands";
}

type Read = { percentile: number | null; z: number | null; spread: { mean: number; sd: number } | null };

function readIn(values: NormValues, raw: number, sign: number, session: string | null): Read | string {
  if (values.kind === "moments") {
    const z = (sign * (raw - values.mean)) / values.sd;
    // A mean and a standard deviation say how many lie below only where scores are normally distributed.
    return { z, percentile: values.isNormal ? 100 * Math.exp(normalLogCdf(z, 0, 1)) : null, spread: values };
  }
  if (values.kind === "own") {
    const others = values.scores.flatMap((each) => (each.session === session ? [] : [each.value]));
    const [centre, sd] = [mean(others), deviation(others)];
    if (centre === null || sd === null) return "too few others";
    const z = sd === 0 ? null : (sign * (raw - centre)) / sd;
    return { z, percentile: midRank(others, raw, sign), spread: { mean: centre, sd } };
  }
  const percentile = percentileIn(values.steps, raw);
  if (percentile === null) return raw < (values.steps[0]?.raw ?? raw) ? "below its table" : "above its table";
  const isInside = percentile > 0 && percentile < 100;
  return { percentile, z: isInside ? normalQuantile(percentile / 100, 0, 1) : null, spread: null };
}

/** The share that lies below, and half of those that are level with it, in per cent. */
function midRank(others: readonly number[], raw: number, sign: number): number {
  const below = others.filter((value) => sign * value < sign * raw).length;
  const level = others.filter((value) => value === raw).length;
  return (100 * (below + level / 2)) / others.length;
}

/** The percentile rank of a raw score in a published table, between two lines in proportion; null beyond its ends. */
function percentileIn(steps: readonly { raw: number; percentile: number }[], raw: number): number | null {
  const after = steps.findIndex((step) => step.raw >= raw);
  const [next, before] = [steps[after], steps[after - 1]];
  if (!next) return null;
  if (next.raw === raw) return next.percentile;
  if (!before) return null;
  return before.percentile + ((raw - before.raw) / (next.raw - before.raw)) * (next.percentile - before.percentile);
}

/**
 * The 95 % interval by the standard error of measurement, SD √(1 − r), around the score that was obtained; or by that of estimating
 * a true score, SD √(r (1 − r)), around mean + r (raw − mean) (Lord & Novick, 1968, chapter 3).
 */
function intervalOf(
  { reliability: r, interval }: Norm,
  raw: number,
  spread: { mean: number; sd: number } | null,
): { from: number | null; to: number | null } {
  if (r === null || spread === null) return { from: null, to: null };
  const centre = interval === "true" ? spread.mean + r * (raw - spread.mean) : raw;
  const error = spread.sd * Math.sqrt((interval === "true" ? r : 1) * (1 - r));
  return { from: centre - z95 * error, to: centre + z95 * error };
}
