import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { allOrders, anySmallTable, smallProblem, unevenness, type SmallTable } from "~/tests/support/orders";
import { feasibility } from "../feasible";
import { streamFor } from "../../random/stream";
import { countOrders } from "./count";
import { drawOrder } from "./draw";
import { brokenIn } from "./problem";
import { drawByRejection } from "./reject";
import { sampleOrder } from "./sample";

const names = {
  of: (columns: readonly string[]) => columns.join(" and ") || "row",
  values: (all: readonly unknown[]) => all.join(", "),
};

describe("drawing an order under any mixture of limits", () => {
  test("it satisfies them where trying all orders finds one, and is told impossible where there is none", () => {
    fc.assert(
      fc.property(anySmallTable, fc.string({ maxLength: 4 }), (table, seed) => {
        const problem = smallProblem(table);
        const all = allOrders(problem);
        const { rows, way } = drawOrder(problem, streamFor(seed));
        const judged = feasibility(problem, names);
        if (all.length === 0) {
          expect(judged.is).toBe("impossible");
          expect(way).toBe("impossible");
        } else {
          expect(judged.is).toBe("possible");
          expect(all).toContain(rows.join(" "));
        }
      }),
      { numRuns: 1500 },
    );
  });

  test("counting finds as many orders as trying all", () => {
    fc.assert(
      fc.property(anySmallTable, (table) => {
        const problem = smallProblem(table);
        const byKind = new Set(
          allOrders(problem).map((rows) =>
            rows
              .split(" ")
              .map((row) => problem.kindOf.get(Number(row)))
              .join(" "),
          ),
        );
        const counted = countOrders(problem, 100_000);
        expect(counted).not.toBeNull();
        if (!problem.replacement) expect(counted?.orders).toEqual({ fraction: byKind.size, power: 0 });
        else expect((counted?.orders.fraction ?? 0) > 0).toBe(byKind.size > 0);
      }),
      { numRuns: 600 },
    );
  });

  test("the sampler alone finds an order wherever there is one, and never breaks up a stretch", () => {
    fc.assert(
      fc.property(anySmallTable, fc.string({ maxLength: 4 }), (table, seed) => {
        const problem = smallProblem(table);
        fc.pre(allOrders(problem).length > 0);
        const { kinds, broken } = sampleOrder(problem, streamFor(seed));
        expect(broken).toBe(0);
        expect(brokenIn(problem, kinds)).toBe(0);
        let at = 0;
        problem.stretches.forEach(({ draws }, index) => {
          const here = [...kinds.slice(at, (at += draws))];
          if (!problem.replacement)
            problem.counts[index]?.forEach((count, kind) =>
              expect(here.filter((each) => each === kind)).toHaveLength(count),
            );
        });
      }),
      { numRuns: 600 },
    );
  });

  test("reasons are only given where there is no order", () => {
    fc.assert(
      fc.property(anySmallTable, (table) => {
        const problem = smallProblem(table);
        const judged = feasibility(problem, names);
        if (judged.is === "impossible") {
          expect(allOrders(problem)).toEqual([]);
          expect(judged.reasons.every((reason) => reason.length > 20)).toBe(true);
        }
      }),
      { numRuns: 600 },
    );
  });
});

/** Tables with their limits, chosen so that all orders can be tried and no class of orders is left out. */
const tables: Record<string, SmallTable> = {
  "runs of at most two, unequal counts": {
    values: [
      ["x", "x"],
      ["y", "x"],
      ["z", "y"],
    ],
    stretches: [{ rows: [0, 0, 0, 0, 1, 1, 2], draws: 7 }],
    replacement: false,
    limits: [{ kind: "longest-run", columns: ["a"], most: 2 }],
  },
  "no row after itself": {
    values: [
      ["x", "x"],
      ["y", "x"],
      ["z", "y"],
    ],
    stretches: [{ rows: [0, 0, 0, 1, 1, 2, 2], draws: 7 }],
    replacement: false,
    limits: [{ kind: "smallest-gap", columns: [], atLeast: 1 }],
  },
  "three limits over two passes": {
    values: [
      ["x", "x"],
      ["x", "y"],
      ["y", "x"],
      ["y", "y"],
    ],
    stretches: [
      { rows: [0, 1, 2, 3], draws: 4 },
      { rows: [0, 1, 2, 3], draws: 4 },
    ],
    replacement: false,
    limits: [
      { kind: "longest-run", columns: ["a"], most: 2 },
      { kind: "longest-run", columns: ["b"], most: 2 },
      { kind: "smallest-gap", columns: [], atLeast: 1 },
    ],
  },
  "balanced transitions": {
    values: [
      ["x", "x"],
      ["y", "x"],
      ["z", "y"],
    ],
    stretches: [{ rows: [0, 0, 0, 1, 1, 1, 2, 2, 2], draws: 9 }],
    replacement: false,
    limits: [{ kind: "balanced-transitions", columns: ["a"], itself: "as-often" }],
  },
  "never itself, first of one kind": {
    values: [
      ["x", "x"],
      ["y", "x"],
      ["z", "y"],
    ],
    stretches: [{ rows: [0, 0, 0, 1, 1, 2, 2], draws: 7 }],
    replacement: false,
    limits: [
      { kind: "balanced-transitions", columns: ["a"], itself: "never" },
      { kind: "edge-trials", at: "first", column: "a", only: ["x"], count: 1 },
    ],
  },
  "at most two in four, two columns never repeating at once": {
    values: [
      ["x", "x"],
      ["x", "y"],
      ["y", "x"],
    ],
    stretches: [{ rows: [0, 0, 1, 1, 2, 2, 2], draws: 7 }],
    replacement: false,
    limits: [
      { kind: "most-in-window", columns: ["a"], only: ["x"], most: 3, window: 4 },
      { kind: "longest-run", columns: ["a", "b"], most: 1 },
    ],
  },
  "drawn with replacement": {
    values: [
      ["x", "x"],
      ["y", "x"],
      ["z", "y"],
    ],
    stretches: [{ rows: [0, 1, 2], draws: 5 }],
    replacement: true,
    limits: [{ kind: "longest-run", columns: ["a"], most: 1 }],
  },
};

describe("every order that satisfies the limits is drawn equally often", () => {
  const draws = { rejection: drawByRejection, counting: countOrders, sampler: sampleOrder };
  for (const [name, table] of Object.entries(tables))
    for (const by of Object.keys(draws))
      test(`${name}: by ${by}`, () => {
        const problem = smallProblem(table);
        const all = new Map(
          [
            ...new Set(
              allOrders(problem).map((rows) =>
                rows
                  .split(" ")
                  .map((row) => problem.kindOf.get(Number(row)))
                  .join(" "),
              ),
            ),
          ].map((kinds) => [kinds, 0]),
        );
        const size = (by === "sampler" ? 20 : 40) * all.size;
        const counted = countOrders(problem, 100_000);
        for (let index = 0; index < size; index++) {
          const stream = streamFor("even", by, index);
          const kinds =
            by === "rejection"
              ? drawByRejection(problem, stream, 1e6)
              : by === "counting"
                ? counted?.draw(stream)
                : sampleOrder(problem, stream).kinds;
          const key = [...(kinds ?? [])].join(" ");
          expect(all.has(key)).toBe(true);
          all.set(key, (all.get(key) ?? 0) + 1);
        }
        const deviate = unevenness([...all.values()]);
        if (process.env.LAPWING_SAY)
          console.log(`${name}, ${by}: ${all.size} orders, ${size} draws, z = ${deviate.toFixed(2)}`);
        expect(deviate).toBeLessThan(4);
      });
});

test("long orders of the sampler are spread like those drawn by counting", () => {
  const length = 80;
  const problem = smallProblem({
    values: [
      ["x", "x"],
      ["y", "x"],
    ],
    stretches: [{ rows: Array.from({ length }, (_, index) => index % 2), draws: length }],
    replacement: false,
    limits: [{ kind: "longest-run", columns: ["a"], most: 2 }],
  });
  const counted = countOrders(problem, 1e6);
  const statistics = {
    runs: (kinds: Int32Array) => kinds.reduce((sum, kind, at) => sum + (at > 0 && kinds[at - 1] !== kind ? 1 : 0), 1),
    "of one kind in the first half": (kinds: Int32Array) =>
      kinds.slice(0, length / 2).reduce((sum, kind) => sum + kind, 0),
  };
  const size = 1500;
  for (const [name, statistic] of Object.entries(statistics)) {
    const draws = (draw: (index: number) => Int32Array | undefined) =>
      Array.from({ length: size }, (_, index) => statistic(draw(index) ?? new Int32Array()));
    const [exact, sampled] = [
      draws((index) => counted?.draw(streamFor("counted", name, index))),
      draws((index) => sampleOrder(problem, streamFor("sampled", name, index)).kinds),
    ];
    const mean = (list: number[]) => list.reduce((sum, each) => sum + each, 0) / list.length;
    const variance = (list: number[]) => mean(list.map((each) => (each - mean(list)) ** 2));
    const deviate = (mean(exact) - mean(sampled)) / Math.sqrt((variance(exact) + variance(sampled)) / size);
    if (process.env.LAPWING_SAY)
      console.log(
        `${name}: ${mean(exact).toFixed(2)} counted, ${mean(sampled).toFixed(2)} sampled, z = ${deviate.toFixed(2)}`,
      );
    expect(Math.abs(deviate)).toBeLessThan(4);
    expect(variance(sampled) / variance(exact)).toBeGreaterThan(0.8);
    expect(variance(sampled) / variance(exact)).toBeLessThan(1.25);
  }
});
