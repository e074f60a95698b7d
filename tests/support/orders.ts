import fc from "fast-check";
import type { Limit } from "~/core/limits/registry";
import { breaksIn } from "~/core/order/draw/draw";
import { problemOf, type Problem, type Stretch } from "~/core/order/draw/problem";

/** Rows of two columns, by their values, and how the table's columns are called in limits. */
export type SmallTable = { values: [string, string][]; stretches: Stretch[]; replacement: boolean; limits: Limit[] };

export const smallProblem = ({ values, stretches, replacement, limits }: SmallTable): Problem =>
  problemOf(
    stretches,
    replacement,
    limits,
    (row, column) => values[row]?.[column === "a" ? 0 : 1] ?? "",
    (column) => column,
  );

/** Every order of a problem's rows that breaks no limit, each told apart by its rows; by trying all. */
export function allOrders(problem: Problem): string[] {
  const found = new Set<string>();
  const rows: number[] = [];
  const walk = (stretch: number, left: number[], draws: number) => {
    const next = problem.stretches[stretch];
    if (!next) {
      if (breaksIn(problem, rows).every((positions) => positions.length === 0)) found.add(rows.join(" "));
      return;
    }
    if (draws === 0) {
      const after = problem.stretches[stretch + 1];
      return walk(stretch + 1, [...(after?.rows ?? [])], after?.draws ?? 0);
    }
    for (const row of new Set(left)) {
      rows.push(row);
      walk(stretch, problem.replacement ? left : without(left, row), draws - 1);
      rows.pop();
    }
  };
  const first = problem.stretches[0];
  walk(0, [...(first?.rows ?? [])], first?.draws ?? 0);
  return [...found].sort();
}

const without = (list: number[], value: number) => {
  const copy = [...list];
  copy.splice(copy.indexOf(value), 1);
  return copy;
};

const columns = fc.constantFrom<string[]>(["a"], ["b"], ["a", "b"], []);
const values = fc.uniqueArray(fc.constantFrom("x", "y", "z"), { minLength: 1, maxLength: 2 });
export const anyLimit: fc.Arbitrary<Limit> = fc.oneof(
  fc.record({ kind: fc.constant("longest-run" as const), columns, most: fc.integer({ min: 1, max: 3 }) }),
  fc.record({ kind: fc.constant("smallest-gap" as const), columns, atLeast: fc.integer({ min: 1, max: 2 }) }),
  fc.record({
    kind: fc.constant("most-in-window" as const),
    columns,
    only: fc.oneof(fc.constant<string[]>([]), values),
    most: fc.integer({ min: 1, max: 2 }),
    window: fc.integer({ min: 2, max: 4 }),
  }),
  fc.record({
    kind: fc.constant("edge-trials" as const),
    at: fc.constantFrom("first" as const, "last" as const),
    column: fc.constantFrom("a", "b"),
    only: values,
    count: fc.integer({ min: 1, max: 3 }),
  }),
  fc.record({
    kind: fc.constant("balanced-transitions" as const),
    columns: fc.constantFrom<string[]>(["a"], ["b"]),
    itself: fc.constantFrom("as-often" as const, "never" as const),
  }),
);

/** Tables small enough to try all orders: up to seven trials in one or two stretches, up to three limits. */
export const anySmallTable: fc.Arbitrary<SmallTable> = fc
  .record({
    values: fc.array(fc.tuple(fc.constantFrom("x", "y", "z"), fc.constantFrom("x", "y")), {
      minLength: 1,
      maxLength: 4,
    }),
    trials: fc.array(fc.nat(3), { minLength: 2, maxLength: 7 }),
    cut: fc.nat(7),
    replacement: fc.boolean(),
    limits: fc.array(anyLimit, { minLength: 1, maxLength: 3 }),
  })
  .map(({ values, trials, cut, replacement, limits }) => {
    const rows = trials.map((row) => row % values.length);
    const pieces = cut > 0 && cut < rows.length ? [rows.slice(0, cut), rows.slice(cut)] : [rows];
    return {
      values,
      limits,
      replacement,
      stretches: pieces.map((each) => ({ rows: each, draws: replacement ? Math.min(5, each.length) : each.length })),
    };
  });

/**
 * Pearson's chi-square of counts against equal chances, as a standard normal deviate (Wilson and Hilferty, 1931):
 * above 4 by chance about once in 30,000.
 */
export function unevenness(counts: readonly number[]): number {
  const expected = counts.reduce((sum, count) => sum + count, 0) / counts.length;
  const square = counts.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0);
  const freedom = Math.max(1, counts.length - 1);
  const spread = 2 / (9 * freedom);
  return (Math.cbrt(square / freedom) - (1 - spread)) / Math.sqrt(spread);
}
