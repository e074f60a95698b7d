import type { Stream } from "../../random/stream";
import type { Problem } from "./problem";

/** Everything an order can come through, with the number of ways on from there; made once for a problem, drawn from often. */
export type Counted = {
  /** How many orders of kinds there are, as a fraction and a power of two, since the number can be larger than a number can be. */
  orders: { fraction: number; power: number };
  /** One of them, all equally likely (where rows are drawn with replacement: as likely as their copies make them). */
  draw: (stream: Stream) => Int32Array;
};

/**
 * Counts all orders that satisfy the limits, position by position: two beginnings are one if they leave the same trials
 * and the limits remember the same of them. Exact up to the rounding of 53-bit fractions. Null when there are more than
 * `most` such states; a count of 0 proves that no order satisfies the limits.
 */
export function countOrders(problem: Problem, most: number): Counted | null {
  const { kinds, length, counts, stretchAt, replacement, limits } = problem;
  const memories = limits.map(({ bound }) => bound.memory);
  if (memories.some((memory) => memory === null)) return null;
  const remembered = memories.flatMap((memory) => memory ?? []);
  let radix = 1;
  for (const { size } of remembered) radix *= size;
  const left = counts.map((all) => {
    const weights: number[] = [];
    let weight = 1;
    for (const count of all) {
      weights.push(weight);
      weight *= replacement ? 1 : count + 1;
    }
    return { weights, size: weight, full: replacement ? 0 : weight - 1 };
  });
  if (radix * Math.max(1, ...left.map(({ size }) => size)) > 2 ** 52) return null;

  // A state is what is left of the stretch, times what the limits remember.
  let start = 0;
  let unit = 1;
  for (const memory of remembered) {
    start += memory.start * unit;
    unit *= memory.size;
  }
  const layers: { next: Int32Array; states: number }[] = [];
  let states = [(left[0]?.full ?? 0) * radix + start];
  let total = 0;
  for (let at = 0; at < length; at++) {
    const stretch = stretchAt[at] as number;
    const { weights } = left[stretch] as (typeof left)[number];
    const all = counts[stretch] as Int32Array;
    const isLast = at + 1 < length && stretchAt[at + 1] !== stretch;
    const found = new Map<number, number>();
    const after: number[] = [];
    const next = new Int32Array(states.length * kinds).fill(-1);
    for (const [index, state] of states.entries()) {
      const rest = Math.floor(state / radix);
      const memory = state - rest * radix;
      for (let kind = 0; kind < kinds; kind++) {
        const count = all[kind] as number;
        if (count === 0) continue;
        const weight = weights[kind] as number;
        if (!replacement && Math.floor(rest / weight) % (count + 1) === 0) continue;
        let packed = memory;
        let unit = 1;
        let following = 0;
        for (const each of remembered) {
          const stepped = each.step(packed % each.size, kind, at);
          if (stepped < 0) {
            following = -1;
            break;
          }
          following += stepped * unit;
          packed = Math.floor(packed / each.size);
          unit *= each.size;
        }
        if (following < 0) continue;
        const restAfter = isLast ? (left[stretch + 1]?.full ?? 0) : replacement ? 0 : rest - weight;
        const key = restAfter * radix + following;
        let known = found.get(key);
        if (known === undefined) {
          known = after.length;
          found.set(key, known);
          after.push(key);
        }
        next[index * kinds + kind] = known;
      }
    }
    layers.push({ next, states: states.length });
    states = after;
    total += after.length;
    if (total > most) return null;
  }

  let ways = Float64Array.from(states, (state) => {
    let packed = state % radix;
    return remembered.every((memory) => {
      const own = packed % memory.size;
      packed = Math.floor(packed / memory.size);
      return memory.mayEnd(own);
    })
      ? 1
      : 0;
  });
  let power = 0;
  const waysOn: Float64Array[] = [];
  for (let at = length - 1; at >= 0; at--) {
    waysOn[at] = ways;
    const { next, states: here } = layers[at] as (typeof layers)[number];
    const weights = counts[stretchAt[at] as number] as Int32Array;
    const before = new Float64Array(here);
    let largest = 0;
    for (let index = 0; index < here; index++) {
      let sum = 0;
      for (let kind = 0; kind < kinds; kind++) {
        const to = next[index * kinds + kind] as number;
        if (to >= 0) sum += (ways[to] as number) * (replacement ? (weights[kind] as number) : 1);
      }
      before[index] = sum;
      if (sum > largest) largest = sum;
    }
    // All states of a position are scaled together, so that their ratios stay.
    if (largest > 2 ** 500) {
      for (let index = 0; index < here; index++) before[index] = (before[index] as number) * 2 ** -500;
      power += 500;
    }
    ways = before;
  }

  return {
    orders: { fraction: ways[0] ?? 1, power },
    draw: (stream) => {
      const drawn = new Int32Array(length);
      let index = 0;
      for (let at = 0; at < length; at++) {
        const { next } = layers[at] as (typeof layers)[number];
        const on = waysOn[at] as Float64Array;
        const weights = counts[stretchAt[at] as number] as Int32Array;
        let sum = 0;
        let chosen = -1;
        const chance = (kind: number) => {
          const to = next[index * kinds + kind] as number;
          return to < 0 ? 0 : (on[to] as number) * (replacement ? (weights[kind] as number) : 1);
        };
        for (let kind = 0; kind < kinds; kind++) sum += chance(kind);
        let point = stream.unit() * sum;
        for (let kind = 0; kind < kinds; kind++) {
          const own = chance(kind);
          if (own === 0) continue;
          chosen = kind;
          point -= own;
          if (point < 0) break;
        }
        drawn[at] = chosen;
        index = next[index * kinds + chosen] as number;
      }
      return drawn;
    },
  };
}
