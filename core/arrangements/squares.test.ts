import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { balancedLatinSquare, latinSquare, orderAt, orderCount, type Orders } from "./squares";

const sizes = Array.from({ length: 11 }, (_, index) => index + 2);
const atEachPlace = (orders: Orders, number: number, index: number) =>
  orders.filter((order) => order[index] === number).length;
const following = (orders: Orders, first: number, second: number) =>
  orders.reduce(
    (sum, order) => sum + order.filter((each, index) => each === second && order[index - 1] === first).length,
    0,
  );

describe.each(sizes)("squares of %i", (n) => {
  const numbers = Array.from({ length: n }, (_, number) => number);
  test.each([
    ["Latin", latinSquare(n)],
    ["balanced Latin", balancedLatinSquare(n)],
  ] as const)("%s: each number once an order and equally often at each place", (_, orders) => {
    for (const order of orders) expect(order.toSorted((a, b) => a - b)).toEqual(numbers);
    for (const number of numbers)
      for (const index of numbers) expect(atEachPlace(orders, number, index)).toBe(orders.length / n);
  });
  test("balanced Latin: n orders for even n, 2n for odd, each number follows each other equally often", () => {
    const orders = balancedLatinSquare(n);
    expect(orders).toHaveLength(n % 2 === 0 ? n : 2 * n);
    for (const first of numbers)
      for (const second of numbers)
        expect(following(orders, first, second)).toBe(first === second ? 0 : orders.length / n);
  });
});

test("every index up to the count gives another order of k out of n", () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 6 }), fc.nat(6), (n, wanted) => {
      const k = Math.min(n, wanted);
      const all = Array.from({ length: orderCount(n, k) }, (_, index) => orderAt(n, k, index));
      expect(new Set(all.map(String)).size).toBe(all.length);
      for (const order of all) {
        expect(new Set(order).size).toBe(k);
        expect(order.every((each) => each >= 0 && each < n)).toBe(true);
      }
    }),
  );
});
