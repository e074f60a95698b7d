import logCdf from "@stdlib/stats-base-dists-normal-logcdf";
import { deviation, mean } from "./describe";
import { smallest } from "./nelder-mead";

/** A normal distribution and an exponential one added up: mean and standard deviation of the first, mean of the second, in milliseconds. */
export type ExGaussian = { mu: number; sigma: number; tau: number };

/** Where the exponential part is so small beside the normal one, the sum is normal to all digits there are. */
const nothingBeside = 1e4;

/** The logarithm of the density at a time (Luce, 1986). */
export function logDensity(x: number, { mu, sigma, tau }: ExGaussian): number {
  const ratio = sigma / tau;
  if (ratio > nothingBeside) return -(((x - mu - tau) / sigma) ** 2) / 2 - Math.log(sigma * Math.sqrt(2 * Math.PI));
  return -Math.log(tau) + (mu - x) / tau + ratio ** 2 / 2 + logCdf((x - mu) / sigma - ratio, 0, 1);
}

/** Fewer times than these are never fitted: they tell too little of three parameters. */
const fewestFitted = 20;

/** From how many times on fits can be asked for; the one that is usual. */
export const fittedFrom = [20, 40, 100, 200] as const;
export const usuallyFittedFrom = 100;

/**
 * The parameters under which some times are most likely, found from those that have their mean, deviation and a share of the tail
 * (Heathcote, 1996); null with fewer than 20 times, or where they do not differ.
 */
export function exGaussianOf(times: ArrayLike<number>): ExGaussian | null {
  const values = Array.from(times);
  const [centre, spread] = [mean(values), deviation(values)];
  if (values.length < fewestFitted || centre === null || !spread) return null;
  const read = ([mu = 0, sigma = 0, tau = 0]: readonly number[]): ExGaussian => ({
    mu,
    sigma: Math.exp(sigma),
    tau: Math.exp(tau),
  });
  const unlikely = (at: readonly number[]) => {
    const of = read(at);
    let sum = 0;
    for (const value of values) sum -= logDensity(value, of);
    return sum;
  };
  const from = [centre - 0.8 * spread, Math.log(0.6 * spread), Math.log(0.8 * spread)];
  // A simplex that has become flat begins anew where it ended.
  const first = smallest(unlikely, from, [0.3 * spread, 0.3, 0.3]);
  return read(smallest(unlikely, first.at, [0.1 * spread, 0.1, 0.1]).at);
}
