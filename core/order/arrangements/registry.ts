import type { Arrangement } from "../../design/types";
import type { ArrangementKind } from "./arrangement";
import { balancedLatin } from "./balanced-latin-square";
import { everyOrder } from "./every-order";
import { latin } from "./latin-square";
import { listed } from "./listed";
import { shuffledOrder } from "./shuffled";

const arrangements: Record<Arrangement, ArrangementKind> = {
  listed,
  shuffled: shuffledOrder,
  "every-order": everyOrder,
  "latin-square": latin,
  "balanced-latin-square": balancedLatin,
};

export const arrangementKind = (arrange: Arrangement): ArrangementKind => arrangements[arrange];
export const arrangementNames = Object.entries(arrangements).map(
  ([id, { name }]) => [id as Arrangement, name] as const,
);
