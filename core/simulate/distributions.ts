import type { Stream } from "../random/stream";

/** A standard normal number, by the polar method of Marsaglia and Bray (1964). */
export function normal(stream: Stream): number {
  for (;;) {
    const [x, y] = [2 * stream.unit() - 1, 2 * stream.unit() - 1];
    const square = x * x + y * y;
    if (square > 0 && square < 1) return x * Math.sqrt((-2 * Math.log(square)) / square);
  }
}

/**
 * A reaction time from an ex-Gaussian distribution: normal with mean `mu` and deviation `sigma`, plus an exponential
 * with mean `tau`, all in milliseconds (Luce, 1986). Its mean is `mu + tau`.
 */
export const exGaussian = (mu: number, sigma: number, tau: number, stream: Stream): number =>
  mu + sigma * normal(stream) - tau * Math.log(1 - stream.unit());
