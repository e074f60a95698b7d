import type { Draw } from "../block-order";

/** Whose bracket is ordered. */
export type BracketDraw = Pick<Draw, "seed" | "participant"> & { bracket: string };

/** All that is known of one way to order the parts of a bracket. */
export type ArrangementKind = {
  name: string;
  /** How many orders participants are spread over evenly, for k taken of n; 1 where the order is drawn anew or fixed. */
  orders: (n: number, k: number) => number;
  /** The order with this index: places of the parts in the list, k of them. */
  order: (n: number, k: number, index: number, draw: BracketDraw) => readonly number[];
  /** What it balances and what not, for the person who chooses it. */
  means: (n: number, k: number) => string;
  /** As it stands in a method section, following the names of the parts. */
  inWords: (n: number, k: number) => string;
};
