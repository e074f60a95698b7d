import type { Bayesian } from "./spec";
import { shareAtLocation, shareRight } from "../curve";
import type { AdaptiveKindOf } from "../kind";
import {
  gridOver,
  momentsAt,
  overLocations,
  placesAlong,
  posterior,
  spreadsBetween,
  type Answered,
  type Grid,
} from "../posterior";
import { placeOf, shownValue, valueAt } from "../range";
import { shownAt, thresholdOf } from "../threshold";

type Prepared = {
  grid: Grid;
  /** The values that can be shown, and for each the share right in each cell and its entropy. */
  candidates: readonly { value: number; shares: Float64Array; entropies: Float64Array }[];
};
const prepared = new WeakMap<Bayesian, Prepared>();

const gridOf = (spec: Bayesian): Grid =>
  gridOver(spec, placesAlong(spec, 61), spreadsBetween(spec.spreadFrom, spec.spreadTo, 9));

/** What is the same in all trials is worked out once. */
function preparedFor(spec: Bayesian): Prepared {
  const known = prepared.get(spec);
  if (known) return known;
  const grid = gridOf(spec);
  const values = spec.next === "entropy" ? placesAlong(spec, 61).map((place) => shownAt(spec, place)) : [];
  const candidates = [...new Set(values)].map((value) => {
    const place = placeOf(spec, value);
    const shares = Float64Array.from(
      grid.locations.flatMap((location) => grid.spreads.map((spread) => shareRight(spec, location, spread, place))),
    );
    return { value, shares, entropies: shares.map(entropy) };
  });
  const made = { grid, candidates };
  prepared.set(spec, made);
  return made;
}

/** Entropy of an event with this probability, in nats. */
const entropy = (share: number): number =>
  share <= 0 || share >= 1 ? 0 : -share * Math.log(share) - (1 - share) * Math.log(1 - share);

function weightsAfter(spec: Bayesian, grid: Grid, answered: readonly Answered[]): Float64Array {
  const { expected } = spec;
  if (!expected) return posterior(grid, answered);
  const centre = placeOf(spec, expected.value);
  return posterior(grid, answered, (location) => -0.5 * ((location - centre) / expected.sd) ** 2);
}

/**
 * The value after which the posterior's entropy is expected to be least: the one whose answer tells most, as the entropy of
 * the answer less its mean entropy within the cells (the mutual information).
 */
function mostTelling({ candidates }: Prepared, weights: Float64Array): number {
  let best = { value: 0, told: -Infinity };
  for (const { value, shares, entropies } of candidates) {
    let [share, within] = [0, 0];
    for (let cell = 0; cell < weights.length; cell++) {
      const weight = weights[cell] as number;
      share += weight * (shares[cell] as number);
      within += weight * (entropies[cell] as number);
    }
    const told = entropy(share) - within;
    if (told > best.told + 1e-12) best = { value, told };
  }
  return best.value;
}

function nextValue(spec: Bayesian, answered: readonly Answered[]): number {
  const ready = preparedFor(spec);
  const weights = weightsAfter(spec, ready.grid, answered);
  if (spec.next === "entropy") return mostTelling(ready, weights);
  if (spec.next === "mean") return shownValue(spec, valueAt(spec, momentsAt(ready.grid, weights, 0).mean));
  const over = overLocations(ready.grid, weights);
  const most = Math.max(...over);
  // Before any answer all may weigh the same: then the middle of them.
  const highest = over.flatMap((weight, index) => (weight >= most * (1 - 1e-9) ? [index] : []));
  const mode = highest[Math.floor((highest.length - 1) / 2)] as number;
  return shownAt(spec, ready.grid.locations[mode] as number);
}

function estimate(spec: Bayesian, answered: readonly Answered[]) {
  const { grid } = preparedFor(spec);
  return thresholdOf(grid, weightsAfter(spec, grid, answered), shareAtLocation(spec));
}

const sources = {
  mode: "Watson and Pelli, 1983",
  mean: "King-Smith et al., 1994",
  entropy: "Kontsevich and Tyler, 1999",
};

/**
 * Bayesian estimation of a threshold: each answer changes the posterior over threshold and spread, and the next value is at
 * the threshold's mode (Watson & Pelli 1983) or mean (King-Smith et al. 1994), or where the expected entropy over threshold
 * and spread is least (Kontsevich & Tyler 1999).
 */
export const bayesian: AdaptiveKindOf<Bayesian> = {
  word: "Bayesian estimation",
  source: ({ next }) => sources[next],
  next: nextValue,
  isDone: (spec, answered) =>
    answered.length >= (spec.endTrials ?? Infinity) ||
    (spec.endError !== undefined && answered.length > 0 && estimate(spec, answered).error <= spec.endError),
  reversals: () => [],
  reversalMean: () => null,
  threshold: (spec, answered) => (answered.length === 0 ? null : estimate(spec, answered)),
  fewest: ({ endTrials = Infinity, endError }) => (endError === undefined ? endTrials : 1),
};
