import { takeEvenly } from "../random/take";

/** Whose bracket is ordered. */
export type BracketDraw = { seed: string; participant: number; bracket: string };

/** Everything the core knows about one way to order the parts of a bracket. */
export type ArrangementKind = {
  name: string;
  /** How many orders participants are spread over evenly, for k taken of n; 1 where the order is drawn anew or fixed. */
  orders: (n: number, k: number) => number;
  /** The order with this index: indices of the parts in the list, k of them. */
  order: (n: number, k: number, index: number, draw: BracketDraw) => readonly number[];
  /** What it balances and what not, for the person who chooses it. */
  means: (n: number, k: number) => string;
  /** How a method section puts it, after the names of the parts. */
  inWords: (n: number, k: number) => string;
};

export const range = (n: number): number[] => Array.from({ length: n }, (_, index) => index);

/** Which k of n parts a participant gets where that is not part of the order: each equally often over participants. */
export const takenParts = (n: number, k: number, { seed, participant, bracket }: BracketDraw): number[] =>
  k >= n ? range(n) : takeEvenly([range(n)], k, participant - 1, [seed, bracket, "parts"]).sort((a, b) => a - b);

/** “2 of 4 parts, each equally often over participants, ”; nothing where all are played. */
export const someOf = (n: number, k: number): string =>
  k < n ? `${k} of ${n} parts, each equally often over participants, ` : "";

/** “1 order”, “3 orders”. */
export const ordersInWords = (count: number): string =>
  `${count.toLocaleString("en")} ${count === 1 ? "order" : "orders"}`;
