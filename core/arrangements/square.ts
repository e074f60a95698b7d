import type { Orders } from "./squares";
import type { ArrangementKind } from "./kind";

/** An arrangement whose orders are the rows of a square; taking k plays the first k of a row. */
export const fromSquare = (
  name: string,
  square: (n: number) => Orders,
  says: Pick<ArrangementKind, "means" | "inWords">,
): ArrangementKind => ({
  name,
  orders: (n) => square(n).length,
  order: (n, k, index) => (square(n)[index % Math.max(1, square(n).length)] ?? []).slice(0, k),
  ...says,
});

/** What taking k of the n places of a row means. */
export const firstOf = (n: number, k: number) => (k < n ? ` Each participant gets the first ${k}.` : "");
