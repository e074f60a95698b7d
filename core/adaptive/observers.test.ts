import { describe, expect, it } from "vitest";
import { streamFor } from "../random/stream";
import type { Bayesian } from "./bayesian/spec";
import { distanceAt, shareRight } from "./curve";
import type { Answered } from "./posterior";
import { placeOf } from "./range";
import { adaptiveKind } from "./registry";
import type { Adaptive } from "./specs";
import type { Staircase } from "./staircase/spec";

const steps: Staircase = {
  method: "staircase",
  least: 1,
  most: 100,
  scale: "logarithmic",
  harder: "lower",
  curve: "weibull",
  guess: 0.5,
  lapse: 0.02,
  spreadFrom: 0.1,
  spreadTo: 0.5,
  start: 60,
  moves: "up-down",
  down: 2,
  target: 0.75,
  steps: [0.2, 0.1, 0.05],
  endTrials: 80,
};
const belief: Bayesian = {
  method: "bayesian",
  least: 1,
  most: 100,
  scale: "logarithmic",
  harder: "lower",
  curve: "weibull",
  guess: 0.5,
  lapse: 0.02,
  next: "entropy",
  spreadFrom: 0.1,
  spreadTo: 0.5,
  roundTo: 0.25,
  endTrials: 60,
};
/** An observer whose answers are right by the function itself, with this location and spread, on the scale. */
function observed(spec: Adaptive, location: number, spread: number, seed: number): Answered[] {
  const kind = adaptiveKind(spec);
  const stream = streamFor("observer", seed);
  const answered: Answered[] = [];
  while (!kind.isDone(spec, answered)) {
    const value = kind.next(spec, answered);
    answered.push({ value, right: stream.unit() < shareRight(spec, location, spread, placeOf(spec, value)) });
  }
  return answered;
}

/** Bias and spread of the thresholds found, on the scale, how often the interval holds the true one, and the share right. */
function figures(spec: Adaptive, name: string, runs: number) {
  const kind = adaptiveKind(spec);
  const [location, spread] = [1, 0.2];
  const found: number[] = [];
  let [held, errors, trials, last, right] = [0, 0, 0, 0, 0];
  for (let run = 0; run < runs; run++) {
    const answered = observed(spec, location, spread, run);
    const threshold = kind.threshold(spec, answered)!;
    const wanted = 10 ** (location + distanceAt(spec, threshold.at) * spread);
    found.push(Math.log10(threshold.value / wanted));
    errors += threshold.error;
    if (wanted >= threshold.from && wanted <= threshold.to) held++;
    trials += answered.length;
    const late = answered.slice(answered.length / 2);
    last += late.length;
    right += late.filter((each) => each.right).length;
  }
  const bias = found.reduce((sum, each) => sum + each, 0) / runs;
  const sd = Math.sqrt(found.reduce((sum, each) => sum + (each - bias) ** 2, 0) / (runs - 1));
  const made = { bias, sd, error: errors / runs, held: held / runs, trials: trials / runs, right: right / last };
  console.log(
    `${name}: ${made.trials.toFixed(1)} trials, bias ${bias.toFixed(4)}, SD ${sd.toFixed(4)}, mean error told ` +
      `${made.error.toFixed(4)} log10 units, 95 % interval holds it in ${(100 * made.held).toFixed(1)} %, ` +
      `right in the later half ${(100 * made.right).toFixed(1)} %`,
  );
  return made;
}

describe("a thousand simulated observers whose threshold is known", () => {
  const cases: [name: string, spec: Adaptive, runs?: number][] = [
    ["1 up, 2 down, 80 trials", steps],
    ["1 up, 3 down, 80 trials", { ...steps, down: 3 }],
    ["weighted to 75 %, 80 trials", { ...steps, moves: "weighted", steps: [0.1, 0.05, 0.03] }],
    ["1 up, 2 down, 12 reversals", { ...steps, endTrials: undefined, endReversals: 12 }],
    ["posterior mode, known spread, 60 trials", { ...belief, next: "mode", spreadFrom: 0.2, spreadTo: 0.2 }],
    ["posterior mean, known spread, 60 trials", { ...belief, next: "mean", spreadFrom: 0.2, spreadTo: 0.2 }],
    ["least expected entropy, 60 trials", belief],
    ["least expected entropy, until the error is 0.06", { ...belief, endTrials: 200, endError: 0.06 }, 200],
  ];
  it.each(cases)("%s", (name, spec, runs = 1000) => {
    const { bias, sd, error, held } = figures(spec, name, runs);
    expect(Math.abs(bias)).toBeLessThan(0.03);
    expect(sd).toBeLessThan(0.12);
    // The error it tells is the one it makes.
    expect(error / sd).toBeGreaterThan(0.75);
    expect(error / sd).toBeLessThan(1.4);
    expect(held).toBeGreaterThan(0.9);
  });
});
