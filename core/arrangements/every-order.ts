import { orderAt, orderCount } from "./squares";
import { ordersInWords, type ArrangementKind } from "./kind";

/** Each permutation equally often over participants. */
export const everyOrder: ArrangementKind = {
  name: "Every order",
  orders: orderCount,
  order: (n, k, index) => orderAt(n, k, index),
  means: (n, k) =>
    `${ordersInWords(orderCount(n, k))}: all there are${k < n ? ` of ${k} out of ${n}` : ""}, each given equally often.`,
  inWords: (n, k) =>
    `in one of the ${orderCount(n, k).toLocaleString("en")} possible orders${k < n ? ` of ${k} out of ${n}` : ""}, each given equally often`,
};
