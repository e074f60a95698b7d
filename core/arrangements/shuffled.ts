import { streamFor } from "../random/stream";
import { shuffled } from "../random/shuffle";
import { someOf, takenParts, type ArrangementKind } from "./kind";

/** An order drawn anew for each participant. */
export const shuffledOrder: ArrangementKind = {
  name: "Shuffled",
  orders: () => 1,
  order: (n, k, _, draw) =>
    shuffled(takenParts(n, k, draw), streamFor(draw.seed, draw.participant, draw.bracket, "bracket")),
  means: (n, k) =>
    `${k < n ? `Each participant gets ${k} of the ${n}, each part equally often. ` : ""}Drawn anew for each participant; over many each part comes about equally often in each position; over few it may not.`,
  inWords: (n, k) => `${someOf(n, k)}in an order drawn anew for each participant`,
};
