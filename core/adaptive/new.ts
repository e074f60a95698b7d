import type { Bayesian } from "./bayesian/spec";
import { endsOf, settledNumber, valueAsDesigned, type Range } from "./range";
import type { Adaptive, AdaptiveMethod } from "./specs";
import type { Staircase } from "./staircase/spec";

const scaled = (range: Range): number => {
  const { hardest, easiest } = endsOf(range);
  return easiest - hardest;
};

/** Staircase and Bayesian estimation as they are at first, over a range of values. */
const made: Record<AdaptiveMethod, (range: Range & Fit) => Adaptive> = {
  staircase: (range): Staircase => {
    const tenth = settledNumber(scaled(range) / 10);
    const { easiest } = endsOf(range);
    const start = range.harder === "lower" ? range.most : range.least;
    return {
      ...range,
      method: "staircase",
      start: Number.isFinite(easiest) ? start : valueAsDesigned(range),
      moves: "up-down",
      down: 2,
      target: 0.75,
      steps: [tenth, settledNumber(tenth / 2), settledNumber(tenth / 4)],
      endReversals: 10,
    };
  },
  bayesian: (range): Bayesian => ({ ...range, method: "bayesian", next: "entropy", endTrials: 40 }),
};
type Fit = Pick<Adaptive, "curve" | "guess" | "lapse" | "spreadFrom" | "spreadTo">;

/** A method over values from `least` to `most`, the lower the harder, with two answers to guess between. */
export function newAdaptive(method: AdaptiveMethod, least: number, most: number): Adaptive {
  const range: Range = { least, most, scale: "linear", harder: "lower" };
  return made[method]({ ...range, curve: "logistic", guess: 0.5, lapse: 0.02, ...spreadsOf(range) });
}

/** The spreads that are considered where nothing is known: from a twentieth to a quarter of the range. */
const spreadsOf = (range: Range): Pick<Fit, "spreadFrom" | "spreadTo"> => ({
  spreadFrom: settledNumber(scaled(range) / 20),
  spreadTo: settledNumber(scaled(range) / 4),
});

/** The same values followed by another method, or counted otherwise: what does not depend on it stays. */
export function changedAdaptive(
  by: Adaptive,
  change: { method?: AdaptiveMethod; range?: Partial<Range>; scale?: Range["scale"] },
): Adaptive {
  const { least, most, harder, roundTo, guess, lapse, curve, spreadFrom, spreadTo } = by;
  const range: Range = { least, most, harder, scale: change.scale ?? by.scale, ...change.range };
  if (roundTo !== undefined) range.roundTo = roundTo;
  // What is counted in units of the scale begins anew with another scale or range.
  const isSame = range.scale === by.scale && range.least === least && range.most === most;
  const fit: Fit = {
    guess,
    lapse,
    curve: range.scale === "linear" ? "logistic" : curve,
    ...(isSame ? { spreadFrom, spreadTo } : spreadsOf(range)),
  };
  const method = change.method ?? by.method;
  const fresh = made[method]({ ...range, ...fit });
  if (method !== by.method) return fresh;
  if (by.method === "staircase" && fresh.method === "staircase") {
    const start = Math.min(range.most, Math.max(range.least, by.start));
    return { ...by, ...range, ...fit, start, steps: isSame ? by.steps : fresh.steps };
  }
  const { expected, ...rest } = by as Bayesian;
  const kept = isSame && expected ? { expected } : {};
  return { ...rest, ...range, ...fit, ...kept } as Adaptive;
}
