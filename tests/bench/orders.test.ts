import { expect, it } from "vitest";
import { balanceOf } from "~/core/balance/balance";
import type { Limit } from "~/core/limits/registry";
import { countOrders } from "~/core/order/draw/count";
import { drawOrder } from "~/core/order/draw/draw";
import { problemOf } from "~/core/order/draw/problem";
import { streamFor } from "~/core/random/stream";
import { ferries } from "~/demo/ferries";
import { wadersFromSource } from "~/demo/make-files";

/** Drawing orders: how long it takes and how it grows, the hardest tables tried, and two hundred participants at once. */
const quantile = (sorted: number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
const said = (times: number[]) => {
  const sorted = times.toSorted((a, b) => a - b);
  return `median ${quantile(sorted, 0.5).toFixed(1)} ms, 95th ${quantile(sorted, 0.95).toFixed(1)} ms, most ${quantile(sorted, 1).toFixed(1)} ms (${times.length})`;
};

type Case = { name: string; trials: number; rows: number; limits: Limit[]; levels?: [number, number] };
const problem = ({ trials, rows, limits, levels = [2, 3] }: Case) =>
  problemOf(
    [{ rows: Array.from({ length: trials }, (_, index) => index % rows), draws: trials }],
    false,
    limits,
    (row, column) => String(column === "a" ? row % levels[0] : row % levels[1]),
    (column) => column,
  );
const run = (column: string, most: number): Limit => ({ kind: "longest-run", columns: [column], most });
const gap = (columns: string[], atLeast: number): Limit => ({ kind: "smallest-gap", columns, atLeast });
const three = [run("a", 3), run("b", 3), gap([], 2)];
const balanced = (column: string, itself: "as-often" | "never"): Limit => ({
  kind: "balanced-transitions",
  columns: [column],
  itself,
});

function draws(of: Case, count: number) {
  const asked = problem(of);
  const times: number[] = [];
  const ways: Record<string, number> = {};
  for (let index = 0; index < count; index++) {
    const begin = performance.now();
    const { way } = drawOrder(asked, streamFor("bench", index));
    times.push(performance.now() - begin);
    ways[way] = (ways[way] ?? 0) + 1;
  }
  return { times: times.slice(Math.min(5, count - 1)), ways };
}

it.each([250, 1000, 4000])("%d trials with three limits", (trials) => {
  const { times, ways } = draws({ name: "", trials, rows: 20, limits: three }, 305);
  console.log(`${trials} trials, three limits: ${said(times)} ${JSON.stringify(ways)}`);
  expect(ways["gave-up"] ?? 0).toBe(0);
});

const hard: Case[] = [
  {
    name: "64 trials, 4 values, transitions balanced",
    trials: 64,
    rows: 4,
    levels: [4, 2],
    limits: [balanced("a", "as-often")],
  },
  {
    name: "192 trials, 4 values, transitions balanced, runs ≤ 2",
    trials: 192,
    rows: 8,
    levels: [4, 2],
    limits: [balanced("a", "as-often"), run("a", 2)],
  },
  {
    name: "120 trials, 6 values, never itself and balanced",
    trials: 120,
    rows: 12,
    levels: [6, 2],
    limits: [balanced("a", "never")],
  },
  {
    name: "600 trials, 6 values, never itself and balanced",
    trials: 600,
    rows: 12,
    levels: [6, 2],
    limits: [balanced("a", "never")],
  },
  { name: "100 trials, 2 values strictly alternating", trials: 100, rows: 10, levels: [2, 5], limits: [run("a", 1)] },
  {
    name: "1,000 trials, 2 values strictly alternating",
    trials: 1000,
    rows: 10,
    levels: [2, 5],
    limits: [run("a", 1)],
  },
  {
    name: "40 trials of 8 rows, 6 others between equal rows",
    trials: 40,
    rows: 8,
    levels: [2, 4],
    limits: [gap([], 6)],
  },
  {
    name: "200 trials of 10 rows, 7 others between equal rows",
    trials: 200,
    rows: 10,
    levels: [2, 5],
    limits: [gap([], 7)],
  },
  {
    name: "200 trials of 10 rows, 9 others (the same cycle)",
    trials: 200,
    rows: 10,
    levels: [2, 5],
    limits: [gap([], 9)],
  },
  {
    name: "96 trials, five limits",
    trials: 96,
    rows: 12,
    levels: [2, 3],
    limits: [
      run("a", 2),
      run("b", 2),
      gap([], 3),
      run("a", 3),
      { kind: "most-in-window", columns: ["b"], only: [], most: 3, window: 6 },
    ],
  },
];
it.each(hard.map((each) => [each.name, each] as const))("hard: %s", (name, of) => {
  const { times, ways } = draws(of, 40);
  const begin = performance.now();
  const counted = countOrders(problem(of), 40_000);
  console.log(
    `${name}: ${said(times)} ${JSON.stringify(ways)}${counted ? `, all counted in ${(performance.now() - begin).toFixed(0)} ms` : ""}`,
  );
});

it("two hundred participants of the demo studies", () => {
  for (const [name, document] of [
    ["Waders on a mudflat", wadersFromSource("demo").document],
    ["Ferries in the fog", ferries()],
  ] as const) {
    const times = Array.from({ length: 12 }, () => {
      const begin = performance.now();
      balanceOf(
        { ...document },
        Array.from({ length: 200 }, (_, index) => index + 1),
      );
      return performance.now() - begin;
    });
    console.log(`200 participants of “${name}”, drawn and counted: ${said(times)}`);
  }
});
