import { type Limit, limitKind } from "../limits/registry";
import { countedOrders, drawOrder, breaksIn } from "./draw/draw";
import type { Problem } from "./draw/problem";
import type { Names } from "../limits/kind";
import { streamFor } from "../random/stream";

/**
 * Whether there is an order. `possible` with the number of orders of kinds where it was counted; `impossible` with
 * reasons, proved; `not-found` when a search ended without one, which proves nothing: the nearest order and what it breaks.
 */
export type Feasibility =
  | { is: "possible"; orders: number | null }
  | { is: "impossible"; reasons: string[] }
  | { is: "not-found"; nearest: number[]; breaks: { limit: number; positions: number[] }[] };

/** Judges a problem: first by counts that speak for themselves, then by counting all orders, then by searching. */
export function feasibility(
  problem: Problem,
  names: Names,
  key: readonly (string | number)[] = ["feasible"],
): Feasibility {
  const reasons = contradictions(problem);
  if (reasons.length > 0) return { is: "impossible", reasons };
  const all = countedOrders(problem);
  if (all)
    return all.orders.fraction > 0
      ? { is: "possible", orders: all.orders.fraction * 2 ** all.orders.power }
      : { is: "impossible", reasons: [together(problem, names)] };
  const { rows, way } = drawOrder(problem, streamFor(...key));
  if (way === "exact" || way === "sampled") return { is: "possible", orders: null };
  return {
    is: "not-found",
    nearest: rows,
    breaks: breaksIn(problem, rows).flatMap((positions, limit) => (positions.length > 0 ? [{ limit, positions }] : [])),
  };
}

/** What a single limit and the counts rule out, over the whole block and within each of its stretches. */
function contradictions(problem: Problem): string[] {
  const reasons = problem.limits.flatMap(({ limit, classed }) => limitKind(limit).contradiction(limit, classed) ?? []);
  if (reasons.length > 0 || problem.stretches.length < 2 || problem.replacement) return reasons;
  const inside = problem.limits.filter(({ limit }) => limitKind(limit).holdsWithin);
  const found = problem.stretches.flatMap((stretch, index) =>
    inside.flatMap(({ limit, classed }) => {
      const own = classed.labels.map((_, each) =>
        (problem.counts[index] as Int32Array).reduce(
          (sum, count, kind) => sum + (classed.classOf[kind] === each ? count : 0),
          0,
        ),
      );
      const present = own.flatMap((count, each) => (count > 0 ? [each] : []));
      const reason = limitKind(limit).contradiction(limit, {
        ...classed,
        total: stretch.draws,
        labels: present.map((each) => classed.labels[each] as string),
        counts: present.map((each) => own[each] as number),
      });
      return reason ? [`Within one pass or sub-block: ${reason}`] : [];
    }),
  );
  return [...new Set(found)];
}

/** Which limits exclude each other: the smallest set found by leaving one out after another. Each count is a proof. */
function together(problem: Problem, names: Names): string {
  let needed = problem.limits.map(({ limit }) => limit);
  for (const limit of [...needed]) {
    const fewer = needed.filter((each) => each !== limit);
    if (fewer.length > 0 && countedOrders(withLimits(problem, fewer))?.orders.fraction === 0) needed = fewer;
  }
  const words = needed.map((limit) => `“${limitKind(limit).inWords(limit, names)}”`);
  return words.length === 1
    ? `No order of these ${problem.length} trials has ${words[0]}. All were counted.`
    : `No order of these ${problem.length} trials has ${words.slice(0, -1).join(", ")} and ${words.at(-1)} together. All were counted.`;
}

/** The same trials under some of the limits. */
function withLimits(problem: Problem, limits: readonly Limit[]): Problem {
  const kept = problem.limits.filter(({ limit }) => limits.includes(limit));
  return { ...problem, limits: kept };
}
