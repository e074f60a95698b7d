import { oneOf } from "../shape/plain";
import { balancedLatin } from "./balanced-latin-square";
import { everyOrder } from "./every-order";
import type { ArrangementKind } from "./kind";
import { latin } from "./latin-square";
import { listed } from "./listed";
import { shuffledOrder } from "./shuffled";

const kinds = {
  listed,
  shuffled: shuffledOrder,
  "every-order": everyOrder,
  "latin-square": latin,
  "balanced-latin-square": balancedLatin,
} satisfies Record<string, ArrangementKind>;

/** How the parts of a bracket are ordered for each participant. */
export type Arrangement = keyof typeof kinds;
export const arrangement = oneOf(...(Object.keys(kinds) as Arrangement[]));

export const arrangementKind = (arrange: Arrangement): ArrangementKind => kinds[arrange];
export const arrangementNames = Object.entries(kinds).map(([word, { name }]) => [word as Arrangement, name] as const);
