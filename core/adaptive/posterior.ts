import { shareRight, type Curve } from "./curve";
import { endsOf, placeOf, type Range } from "./range";

/** What was shown and whether the answer was right: of trials that count, in their order. */
export type Answered = { value: number; right: boolean };

/** The locations and spreads that are considered; each pair is a cell, spreads within locations. */
export type Grid = {
  range: Range & Curve;
  locations: readonly number[];
  spreads: readonly number[];
  known: Map<number, Logs>;
};
/** The logarithms of the probabilities of a right and a wrong answer, in each cell. */
type Logs = { right: Float64Array; wrong: Float64Array };

export const gridOver = (range: Range & Curve, locations: readonly number[], spreads: readonly number[]): Grid => ({
  range,
  locations,
  spreads,
  known: new Map(),
});

/** No more values are remembered with their probabilities; a method shows few different ones. */
const mostKnown = 500;

function logsOf({ range, locations, spreads, known }: Grid, value: number): Logs {
  const found = known.get(value);
  if (found) return found;
  const place = placeOf(range, value);
  const shares = locations.flatMap((location) => spreads.map((spread) => shareRight(range, location, spread, place)));
  const log = (share: number) => Math.log(Math.max(1e-12, share));
  const made = { right: Float64Array.from(shares, log), wrong: Float64Array.from(shares, (share) => log(1 - share)) };
  if (known.size < mostKnown) known.set(value, made);
  return made;
}

/** `count` places from the hardest value to the easiest, in equal steps. */
export function placesAlong(range: Range, count: number): number[] {
  const { hardest, easiest } = endsOf(range);
  return Array.from({ length: count }, (_, index) => hardest + ((easiest - hardest) * index) / (count - 1));
}

/** `count` spreads from one to the other, in equal ratios. */
export const spreadsBetween = (from: number, to: number, count: number): number[] =>
  from === to ? [from] : Array.from({ length: count }, (_, index) => from * (to / from) ** (index / (count - 1)));

/**
 * The probability of each cell after these answers, by Bayes' rule; they sum to 1. `prior` gives the logarithm of a
 * location's weight before any answer.
 */
export function posterior(
  grid: Grid,
  answered: readonly Answered[],
  prior: (location: number) => number = () => 0,
): Float64Array {
  const { locations, spreads } = grid;
  const logs = new Float64Array(locations.length * spreads.length);
  locations.forEach((location, row) => logs.fill(prior(location), row * spreads.length, (row + 1) * spreads.length));
  for (const { value, right } of answered) {
    const added = logsOf(grid, value)[right ? "right" : "wrong"];
    for (let cell = 0; cell < logs.length; cell++) logs[cell] = (logs[cell] as number) + (added[cell] as number);
  }
  const most = logs.reduce((highest, each) => Math.max(highest, each), -Infinity);
  let sum = 0;
  for (let cell = 0; cell < logs.length; cell++) {
    const weight = Math.exp((logs[cell] as number) - most);
    logs[cell] = weight;
    sum += weight;
  }
  for (let cell = 0; cell < logs.length; cell++) logs[cell] = (logs[cell] as number) / sum;
  return logs;
}

/** Mean and standard deviation, over the cells, of the place that lies so many spreads above the location. */
export function momentsAt(
  { locations, spreads }: Grid,
  weights: Float64Array,
  distance: number,
): { mean: number; sd: number } {
  let [mean, square] = [0, 0];
  let cell = 0;
  for (const location of locations)
    for (const spread of spreads) {
      const weight = weights[cell++] as number;
      const place = location + distance * spread;
      mean += weight * place;
      square += weight * place * place;
    }
  return { mean, sd: Math.sqrt(Math.max(0, square - mean * mean)) };
}

/** The weights of the locations alone. */
export function overLocations({ locations, spreads }: Grid, weights: Float64Array): number[] {
  return locations.map((_, row) =>
    weights.subarray(row * spreads.length, (row + 1) * spreads.length).reduce((sum, each) => sum + each, 0),
  );
}
