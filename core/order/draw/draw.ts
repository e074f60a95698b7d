import { keepLast } from "../../random/keep-last";
import type { Stream } from "../../random/stream";
import { shuffled } from "../../random/shuffle";
import { countOrders, type Counted } from "./count";
import type { Problem } from "./problem";
import { drawByRejection } from "./reject";
import { sampleOrder } from "./sample";

/**
 * How an order was found. `exact`: every order that satisfies the limits had exactly the same chance; `sampled`: about
 * the same; `impossible`: there is none, proved by counting; `gave-up`: none was found, which proves nothing.
 */
export type Way = "exact" | "sampled" | "impossible" | "gave-up";
export type Drawn = { rows: number[]; way: Way };

/** States that are counted through at most, and placements tried before that for a trial of the block. */
const mostStates = 40_000;
const [triesPerTrial, leastTries] = [1, 1000];

/**
 * Draws one order of a problem's trials, as rows. Without limits, or where blind drawing soon meets one that satisfies
 * them, or where all can be counted, the draw is exactly even; otherwise it comes from the sampler. Where there is none,
 * the nearest one seen is given.
 */
export function drawOrder(problem: Problem, stream: Stream): Drawn {
  const rejected = drawByRejection(problem, stream, triesPerTrial * problem.length + leastTries);
  if (rejected) return { rows: rowsFor(problem, rejected, stream), way: "exact" };
  const all = counted(problem);
  if (all && all.orders.fraction > 0) return { rows: rowsFor(problem, all.draw(stream), stream), way: "exact" };
  const { kinds, broken } = sampleOrder(problem, stream, all ? 0.2 : 1);
  return { rows: rowsFor(problem, kinds, stream), way: all ? "impossible" : broken > 0 ? "gave-up" : "sampled" };
}

/** The trials of the whole block with all that satisfy the limits counted; null where there are too many states. */
export const countedOrders = (problem: Problem): Counted | null => counted(problem);

// Counting costs more than drawing, and the participants of a study share a problem: the last ones are kept.
const countedBefore = keepLast<Counted | null>(24);
const counted = (problem: Problem): Counted | null =>
  countedBefore(JSON.stringify([problem.length, problem.counts.map((all) => [...all]), limitsKey(problem)]), () =>
    countOrders(problem, mostStates),
  );
const limitsKey = ({ replacement, limits }: Problem) => [
  replacement,
  limits.map(({ limit, classed }) => [limit, [...classed.classOf], classed.labels]),
];

/** The same for problems that have the same orders of the same rows, and so the same draw from the same stream. */
export const problemKey = (problem: Problem): string =>
  JSON.stringify([problem.stretches.map(({ rows, draws }) => [rows, draws]), [...problem.kindOf], limitsKey(problem)]);

/** Puts rows to an order of kinds: the rows of each kind in a shuffled order of their own. */
function rowsFor(
  { stretches, kindOf, replacement, kinds: size }: Problem,
  kinds: Int32Array,
  stream: Stream,
): number[] {
  const rows: number[] = [];
  for (const stretch of stretches) {
    const pools: number[][] = Array.from({ length: size }, () => []);
    for (const row of replacement ? stretch.rows : shuffled(stretch.rows, stream))
      pools[kindOf.get(row) as number]?.push(row);
    const start = rows.length;
    for (let at = start; at < start + stretch.draws; at++) {
      const pool = pools[kinds[at] as number] as number[];
      rows.push((replacement ? pool[stream.whole(0, pool.length - 1)] : pool.pop()) as number);
    }
  }
  return rows;
}

/**
 * Indices, from 0, at which an order of rows breaks each limit; for balanced transitions, every transition that is one
 * too many.
 */
export function breaksIn(problem: Problem, rows: readonly number[]): number[][] {
  const kinds = Int32Array.from(rows, (row) => problem.kindOf.get(row) as number);
  return problem.limits.map(({ bound, classed }) => {
    if (!bound.transitions) return [...kinds.keys()].filter((at) => bound.broken(kinds, at, at) > 0);
    bound.transitions.reset(kinds);
    if (bound.transitions.cost() === 0) return [];
    // A transition is marked where taking it out would bring the table nearer to what is allowed.
    const { transitions } = bound;
    const marked = [...kinds.keys()].filter((at) => {
      const before = transitions.cost();
      transitions.remove(kinds, at);
      const isFewer = transitions.cost() < before;
      transitions.add(kinds, at);
      return at > 0 && isFewer;
    });
    return marked.length > 0 ? marked : classed.total > 0 ? [0] : [];
  });
}
