import { someOf, takenParts, type ArrangementKind } from "./kind";

/** The order of the table for everyone. */
export const listed: ArrangementKind = {
  name: "Listed",
  orders: () => 1,
  order: (n, k, _, draw) => takenParts(n, k, draw),
  means: (n, k) =>
    `${k < n ? `Each participant gets ${k} of the ${n}, each part equally often. They` : "The parts"} come in the order of the table for everyone.`,
  inWords: (n, k) => `${someOf(n, k)}in the same order for everyone`,
};
