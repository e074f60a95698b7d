import { list, object } from "../shape/compound";
import { oneOf } from "../shape/plain";
import { choosing, lazily, type Of, type Shape } from "../shape/shape";
import type { Operand } from "./calculation";
import { operand } from "./operand";

const comparison = oneOf("=", "≠", "<", "≤", ">", "≥");
export type Comparison = Of<typeof comparison>;

/** A condition is data, not code: it is picked, never typed as a formula. */
export type Condition =
  { all: Condition[] } | { any: Condition[] } | { not: Condition } | { left: Operand; is: Comparison; right: Operand };

const all = lazily(() => object({ all: list(condition) }));
const any = lazily(() => object({ any: list(condition) }));
const not = lazily(() => object({ not: condition }));
const compared = object({ left: operand, is: comparison, right: operand });

export const condition: Shape<Condition> = choosing<Condition>((value) => {
  const keys = typeof value === "object" && value !== null ? Object.keys(value) : [];
  return keys.includes("all") ? all : keys.includes("any") ? any : keys.includes("not") ? not : compared;
});
