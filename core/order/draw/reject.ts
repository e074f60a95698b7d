import type { Stream } from "../../random/stream";
import type { Problem } from "./problem";

/**
 * Draws orders trial by trial, each with equal chances from what is left, and starts anew as soon as a limit is broken:
 * every order that satisfies the limits is then exactly equally likely. Null when `most` placements did not lead to one.
 */
export function drawByRejection(problem: Problem, stream: Stream, most: number): Int32Array | null {
  const { length, limits, stretchAt, stretches, replacement, kindOf } = problem;
  const pool = stretches.map(({ rows }) => Int32Array.from(rows, (row) => kindOf.get(row) as number));
  const kinds = new Int32Array(length);
  const local = limits.filter(({ bound }) => !bound.transitions).map(({ bound }) => bound);
  const whole = limits.flatMap(({ bound }) => bound.transitions ?? []);
  for (let placed = 0; placed < most;) {
    let at = 0;
    let start = 0;
    for (; at < length; at++, placed++) {
      const trials = pool[stretchAt[at] as number] as Int32Array;
      if (at > 0 && stretchAt[at] !== stretchAt[at - 1]) start = at;
      const pick = replacement ? stream.whole(0, trials.length - 1) : stream.whole(at - start, trials.length - 1);
      const kind = trials[pick] as number;
      if (!replacement) {
        trials[pick] = trials[at - start] as number;
        trials[at - start] = kind;
      }
      kinds[at] = kind;
      if (local.some((bound) => bound.broken(kinds, at, at) > 0)) break;
    }
    if (at < length) {
      placed++;
      continue;
    }
    const isBalanced = whole.every((each) => {
      each.reset(kinds);
      return each.cost() === 0;
    });
    if (isBalanced) return kinds;
  }
  return null;
}
