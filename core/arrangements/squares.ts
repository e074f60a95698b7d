/** Orders of the numbers 0 … n − 1, one a row. */
export type Orders = readonly (readonly number[])[];

/** A row, counted on and on from 0, of the cyclic Latin square of n. */
export const latinSquareRow = (n: number, row: number): number[] =>
  Array.from({ length: n }, (_, index) => (row + index) % n);

/** The cyclic Latin square of n: n orders in which each number stands once in each position. */
export const latinSquare = (n: number): Orders => Array.from({ length: n }, (_, row) => latinSquareRow(n, row));

/**
 * Orders in which each number stands equally often in each position and directly follows each other number equally often:
 * n orders for even n, twice as many for odd n. Source: Williams, E. J. (1949). Experimental designs balanced for the
 * estimation of residual effects of treatments. Australian Journal of Scientific Research, A 2, 149–168.
 */
export function balancedLatinSquare(n: number): Orders {
  const first = Array.from({ length: n }, (_, index) => (index % 2 === 0 ? index / 2 : n - (index + 1) / 2));
  const rows = Array.from({ length: n }, (_, row) => first.map((number) => (number + row) % n));
  return n % 2 === 0 || n === 1 ? rows : [...rows, ...rows.map((row) => row.toReversed())];
}

/** How many orders of k out of n numbers there are; Infinity beyond what a number can hold. */
export const orderCount = (n: number, k: number): number =>
  Array.from({ length: k }, (_, index) => n - index).reduce((product, each) => product * each, 1);

/** The order of k out of n numbers with this index, from 0 to orderCount − 1, in the order of a dictionary. */
export function orderAt(n: number, k: number, index: number): number[] {
  const left = Array.from({ length: n }, (_, number) => number);
  let rest = index;
  return Array.from({ length: k }, (_, position) => {
    const after = orderCount(n - position - 1, k - position - 1);
    const pick = Math.floor(rest / after);
    rest -= pick * after;
    return left.splice(pick, 1)[0] as number;
  });
}
