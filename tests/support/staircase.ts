import type { Staircase } from "~/core/adaptive/staircase/spec";

/** A staircase from 50 between 0 and 100, harder by 10 after each right answer and easier by 10 after each wrong one. */
export const plainStaircase: Staircase = {
  method: "staircase",
  least: 0,
  most: 100,
  scale: "linear",
  harder: "lower",
  curve: "logistic",
  guess: 0.5,
  lapse: 0.02,
  spreadFrom: 5,
  spreadTo: 25,
  start: 50,
  moves: "up-down",
  down: 1,
  target: 0.75,
  steps: [10],
};
