import { describe, expect, it } from "vitest";
import { exGaussianOf, logDensity } from "./ex-gaussian";
import { smallest } from "./nelder-mead";
import { streamFor } from "../random/stream";

/** Those of tests/support/ex-gaussian.R. */
const times = [
  434.8, 671.8, 444.7, 988.4, 607.7, 467, 386.8, 466.3, 552, 572.3, 423.8, 443.1, 430.1, 422.7, 558.7, 511.5, 493.9,
  583.5, 449, 520.3, 553.2, 510.4, 509.8, 393.7, 404.9, 946.2, 457.8, 430.9, 524.8, 564.8, 410, 509.2, 738.1, 451.7,
  460.1, 888.2, 681.6, 482.5, 688.2, 1326.8, 477, 634.7, 542.3, 431.7, 472.7, 488.5, 574.9, 468, 513.9, 467.7, 754,
  506.8, 513, 542.4, 495.1, 482.4, 705.3, 411.9, 544, 393.1,
];

describe("the ex-Gaussian distribution", () => {
  it("has the densities of R", () => {
    const near = (value: number) => expect.closeTo(value, 8) as number;
    const at = (xs: number[], tau: number) => xs.map((x) => logDensity(x, { mu: 420, sigma: 35, tau }));
    expect(at([300, 430, 900], 110)).toEqual([-12.87945191833, -5.46015892711, -9.01349689472].map(near));
    expect(at([300, 430, 470], 1)).toEqual([-10.44596680195, -4.50773425883, -5.45390738127].map(near));
    // Without a tail it is the normal one.
    const normal = (x: number) => -(((x - 420) / 35) ** 2) / 2 - Math.log(35 * Math.sqrt(2 * Math.PI));
    expect(logDensity(460, { mu: 420, sigma: 35, tau: 1e-9 })).toBeCloseTo(normal(460), 8);
  });
  it("is fitted as R does it by hand", () => {
    const fit = exGaussianOf(times)!;
    expect(fit.mu).toBeCloseTo(405.5564, 1);
    expect(fit.sigma).toBeCloseTo(20.3924, 1);
    expect(fit.tau).toBeCloseTo(140.7886, 1);
    expect(times.reduce((sum, time) => sum + logDensity(time, fit), 0)).toBeCloseTo(-364.3708, 4);
  });
  it("gives back the parameters of what was drawn from it, on the average over many sets of a hundred", () => {
    const stream = streamFor("ex-Gaussian");
    const random = () => stream.unit();
    const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const wanted = { mu: 400, sigma: 30, tau: 100 };
    const fits = Array.from({ length: 150 }, () =>
      exGaussianOf(
        Array.from({ length: 100 }, () => wanted.mu + wanted.sigma * normal() - wanted.tau * Math.log(1 - random())),
      )!,
    );
    for (const name of ["mu", "sigma", "tau"] as const) {
      const mean = fits.reduce((sum, fit) => sum + fit[name], 0) / fits.length;
      expect(Math.abs(mean - wanted[name])).toBeLessThan(4);
    }
  });
  it("is not fitted to fewer than twenty times, nor to what does not differ", () => {
    expect(exGaussianOf(times.slice(0, 19))).toBeNull();
    expect(exGaussianOf(Array.from({ length: 30 }, () => 400))).toBeNull();
  });
});

it("the smallest value of a bent valley is found", () => {
  const valley = ([x = 0, y = 0]: readonly number[]) => (1 - x) ** 2 + 100 * (y - x * x) ** 2;
  const { at, value } = smallest(valley, [-1.2, 1], [0.5, 0.5], { within: 1e-14, most: 2000 });
  expect(at).toEqual([1, 1].map((each) => expect.closeTo(each, 5) as number));
  expect(value).toBeLessThan(1e-9);
});
