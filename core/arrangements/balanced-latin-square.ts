import { balancedLatinSquare } from "./squares";
import { ordersInWords, someOf } from "./kind";
import { firstOf, fromSquare } from "./square";

/** Each part equally often in each position and after each other part (Williams, 1949). */
export const balancedLatin = fromSquare("Balanced Latin", balancedLatinSquare, {
  means: (n, k) =>
    `${ordersInWords(balancedLatinSquare(n).length)}. Each part comes equally often in each position and directly follows each other one equally often (Williams, 1949).${firstOf(n, k)}`,
  inWords: (n, k) => `${someOf(n, k)}in an order from a balanced Latin square of ${n} (Williams, 1949)`,
});
