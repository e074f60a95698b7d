import type { Staircase } from "./spec";
import type { AdaptiveKindOf } from "../kind";
import { gridOver, placesAlong, posterior, spreadsBetween, type Answered, type Grid } from "../posterior";
import { endsOf, placeOf, settledNumber, valueAt } from "../range";
import { shownAt, thresholdOf } from "../threshold";

/** The steps to the harder and the easier side after so many reversals. Kaernbach (1991): their ratio is (1 − p) to p. */
function stepsAfter({ moves, target, steps, easierBy = 1 }: Staircase, reversals: number) {
  const harder = steps[Math.min(reversals, steps.length - 1)] as number;
  return { harder, easier: harder * (moves === "weighted" ? target / (1 - target) : easierBy) };
}

type Walk = { place: number; reversals: number[] };

/** Follows the answers from the start. The value shown is what the next step is taken from. */
function walked(spec: Staircase, answered: readonly Answered[]): Walk {
  const needed = spec.moves === "weighted" ? 1 : spec.down;
  const { hardest, easiest } = endsOf(spec);
  let place = placeOf(spec, spec.start);
  let [inARow, direction] = [0, 0];
  const reversals: number[] = [];
  answered.forEach(({ value, right }, index) => {
    place = placeOf(spec, value);
    inARow = right ? inARow + 1 : 0;
    if (right && inARow < needed) return;
    inARow = 0;
    const now = right ? -1 : 1;
    if (direction !== 0 && now !== direction) reversals.push(index);
    direction = now;
    const { harder, easier } = stepsAfter(spec, reversals.length);
    place = Math.min(easiest, Math.max(hardest, place + (right ? -harder : easier)));
  });
  return { place, reversals };
}

/** The share right that it leads to, where steps to both sides take each other back: 0.5^(1/n) with equal steps, García-Pérez (1998) with others. */
export const targetOf = ({ moves, target, down, easierBy = 1 }: Staircase): number =>
  moves === "weighted" ? target : settledNumber((easierBy / (1 + easierBy)) ** (1 / down));

const grids = new WeakMap<Staircase, Grid>();
function gridOf(spec: Staircase): Grid {
  const known = grids.get(spec);
  if (known) return known;
  const made = gridOver(spec, placesAlong(spec, 101), spreadsBetween(spec.spreadFrom, spec.spreadTo, 9));
  grids.set(spec, made);
  return made;
}

/**
 * Transformed and weighted up–down staircases (Levitt 1971; Kaernbach 1991). One up, *n* down leads to 0.5^(1/n) right; with
 * equal steps it can miss that (García-Pérez 1998), which is why a ratio of the steps can be given. The threshold is that of
 * a function fitted to all trials; reversals give a mean without an error.
 */
export const staircase: AdaptiveKindOf<Staircase> = {
  word: "staircase",
  source: ({ moves }) => (moves === "weighted" ? "Kaernbach, 1991" : "Levitt, 1971"),
  next: (spec, answered) => shownAt(spec, walked(spec, answered).place),
  isDone: (spec, answered) =>
    answered.length >= (spec.endTrials ?? Infinity) ||
    (spec.endReversals !== undefined && walked(spec, answered).reversals.length >= spec.endReversals),
  reversals: (spec, answered) => walked(spec, answered).reversals,
  reversalMean: (spec, answered) => {
    // Those while steps still shrank are left out; an even number of the others, so that no side weighs more.
    const settled = walked(spec, answered).reversals.slice(spec.steps.length - 1);
    const even = settled.slice(settled.length % 2);
    if (even.length < 2) return null;
    const places = even.map((index) => placeOf(spec, (answered[index] as Answered).value));
    return settledNumber(valueAt(spec, places.reduce((sum, each) => sum + each, 0) / places.length));
  },
  threshold: (spec, answered) => {
    if (answered.length === 0) return null;
    const grid = gridOf(spec);
    return thresholdOf(grid, posterior(grid, answered), targetOf(spec));
  },
  fewest: ({ moves, down, endReversals = Infinity, endTrials = Infinity }) =>
    // A reversal needs a turn: in the best case right and wrong answers take turns.
    Math.min(
      endTrials,
      endReversals === Infinity ? Infinity : fewestFor(endReversals, moves === "weighted" ? 1 : down),
    ),
};

/** The fewest trials in which so many reversals can come: harder takes `down` of them, easier one. */
const fewestFor = (reversals: number, down: number): number =>
  1 + Math.ceil(reversals / 2) * down + Math.floor(reversals / 2);
