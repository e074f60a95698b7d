import type { Arrangement } from "../../design/types";
import { streamFor } from "../random";
import { shuffled } from "../shuffle";
import { balancedLatinSquare, latinSquare, orderAt, orderCount, type Orders } from "../squares";
import { takeEvenly } from "../take";
import type { ArrangementKind, BracketDraw } from "./arrangement";

const range = (n: number) => Array.from({ length: n }, (_, place) => place);
/** Which k of n parts a participant gets where that is not part of the order: each equally often over participants. */
const takenParts = (n: number, k: number, { seed, participant, bracket }: BracketDraw): number[] =>
  k >= n ? range(n) : takeEvenly([range(n)], k, participant - 1, [seed, bracket, "parts"]).sort((a, b) => a - b);
const some = (n: number, k: number) => (k < n ? `${k} of ${n} parts, each equally often over participants, ` : "");

const listed: ArrangementKind = {
  name: "Listed",
  orders: () => 1,
  order: (n, k, _, draw) => takenParts(n, k, draw),
  means: (n, k) =>
    `${k < n ? `Each participant gets ${k} of the ${n}, each part equally often. They` : "The parts"} come in the order of the table for everyone.`,
  inWords: (n, k) => `${some(n, k)}in the same order for everyone`,
};
const isShuffled: ArrangementKind = {
  name: "Shuffled",
  orders: () => 1,
  order: (n, k, _, draw) =>
    shuffled(takenParts(n, k, draw), streamFor(draw.seed, draw.participant, draw.bracket, "bracket")),
  means: (n, k) =>
    `${k < n ? `Each participant gets ${k} of the ${n}, each part equally often. ` : ""}Drawn anew for each participant; over many each part comes about equally often at each place, over few it may not.`,
  inWords: (n, k) => `${some(n, k)}in an order drawn anew for each participant`,
};
const everyOrder: ArrangementKind = {
  name: "Every order",
  orders: orderCount,
  order: (n, k, index) => orderAt(n, k, index),
  means: (n, k) =>
    `${said(orderCount(n, k))}: all there are${k < n ? ` of ${k} out of ${n}` : ""}, each given equally often.`,
  inWords: (n, k) =>
    `in one of the ${orderCount(n, k).toLocaleString("en")} possible orders${k < n ? ` of ${k} out of ${n}` : ""}, each given equally often`,
};
const fromSquare = (
  name: string,
  square: (n: number) => Orders,
  says: Pick<ArrangementKind, "means" | "inWords">,
): ArrangementKind => ({
  name,
  orders: (n) => square(n).length,
  order: (n, k, index) => (square(n)[index % Math.max(1, square(n).length)] ?? []).slice(0, k),
  ...says,
});
const said = (count: number) => `${count.toLocaleString("en")} ${count === 1 ? "order" : "orders"}`;
const firstOf = (n: number, k: number) => (k < n ? ` Each participant gets the first ${k}.` : "");

const arrangements: Record<Arrangement, ArrangementKind> = {
  listed,
  shuffled: isShuffled,
  "every-order": everyOrder,
  "latin-square": fromSquare("Latin", latinSquare, {
    means: (n, k) =>
      `${said(n)}. Each part comes equally often at each place. Who precedes whom is not balanced; the balanced square has ${said(balancedLatinSquare(n).length)}.${firstOf(n, k)}`,
    inWords: (n, k) => `${some(n, k)}in an order from a Latin square of ${n}`,
  }),
  "balanced-latin-square": fromSquare("Balanced Latin", balancedLatinSquare, {
    means: (n, k) =>
      `${said(balancedLatinSquare(n).length)}. Each part comes equally often at each place and directly follows each other one equally often (Williams, 1949).${firstOf(n, k)}`,
    inWords: (n, k) => `${some(n, k)}in an order from a balanced Latin square of ${n} (Williams, 1949)`,
  }),
};

export const arrangementKind = (arrange: Arrangement): ArrangementKind => arrangements[arrange];
export const arrangementNames = Object.entries(arrangements).map(
  ([id, { name }]) => [id as Arrangement, name] as const,
);
