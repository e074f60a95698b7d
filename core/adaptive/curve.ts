import { number, oneOf } from "../shape/plain";

/*
 * Psychometric functions: the share of right answers by how easy a value is. The location is where the function stands
 * halfway (logistic) or 63.2 % (Weibull) between guessing and its upper end; the spread is the distance between the places
 * where it stands at a quarter and at three quarters of that way.
 */

export const curveFields = {
  /** The Weibull function over logarithms of values, or the logistic. */
  curve: oneOf("logistic", "weibull"),
  /** The share right where nothing is seen. */
  guess: number({ least: 0, most: 0.95 }),
  /** The share wrong where everything is seen. */
  lapse: number({ least: 0, most: 0.4 }),
  /** The spreads that are considered, on the scale: equal where the spread is known. */
  spreadFrom: number({ above: 0, most: 1e9 }),
  spreadTo: number({ above: 0, most: 1e9 }),
};
export type CurveName = "logistic" | "weibull";
export type Curve = { curve: CurveName; guess: number; lapse: number };

/** What is wrong with the function that is fitted; null where nothing is. */
export function fitProblem(spec: {
  curve: CurveName;
  scale: "linear" | "logarithmic";
  spreadFrom: number;
  spreadTo: number;
}): { field: string; message: string } | null {
  if (spec.spreadTo < spec.spreadFrom) return { field: "spreadTo", message: "must not be less than the least spread" };
  if (spec.curve === "weibull" && spec.scale !== "logarithmic")
    return { field: "curve", message: "goes with steps that are ratios: choose the logistic function, or ratios" };
  return null;
}

/** The share of the way at a distance from the location, in spreads; and the distance at a share of the way. */
const shapes: Record<CurveName, { share: (distance: number) => number; distance: (share: number) => number }> = {
  logistic: {
    share: (distance) => 1 / (1 + Math.exp(-2 * Math.log(3) * distance)),
    distance: (share) => Math.log(share / (1 - share)) / (2 * Math.log(3)),
  },
  weibull: {
    // log10 of ln 4 over ln 4/3 is the distance from a quarter to three quarters where the slope is 1.
    share: (distance) => 1 - Math.exp(-(10 ** (distance * quarters))),
    distance: (share) => Math.log10(-Math.log(1 - share)) / quarters,
  },
};
const quarters = Math.log10(Math.log(4) / Math.log(4 / 3));

/** The share right at a place, for a function with this location and spread. */
export const shareRight = ({ curve, guess, lapse }: Curve, location: number, spread: number, place: number): number =>
  guess + (1 - guess - lapse) * shapes[curve].share((place - location) / spread);

/** How far above the location, in spreads, so large a share is right; the nearest there is where that is never so. */
export function distanceAt({ curve, guess, lapse }: Curve, share: number): number {
  const way = (share - guess) / (1 - guess - lapse);
  return shapes[curve].distance(Math.min(0.995, Math.max(0.005, way)));
}

/** The share right at the location. */
export const shareAtLocation = (of: Curve): number => shareRight(of, 0, 1, 0);
