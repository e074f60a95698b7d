import { balancedLatinSquare, latinSquare } from "./squares";
import { ordersInWords, someOf } from "./kind";
import { firstOf, fromSquare } from "./square";

/** Each part equally often in each position. */
export const latin = fromSquare("Latin", latinSquare, {
  means: (n, k) =>
    `${ordersInWords(n)}. Each part comes equally often in each position. Who precedes whom is not balanced; the balanced square has ${ordersInWords(balancedLatinSquare(n).length)}.${firstOf(n, k)}`,
  inWords: (n, k) => `${someOf(n, k)}in an order from a Latin square of ${n}`,
});
