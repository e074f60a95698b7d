import type { Stream } from "../../random/stream";
import { brokenIn, type Problem } from "./problem";

/** What the sampler came to: an order that satisfies every limit, or the nearest one it saw. */
export type Sampled = { kinds: Int32Array; broken: number };

/**
 * Draws an order by a walk over orders (Metropolis et al., 1953): two trials of a stretch are exchanged, or two runs of
 * trials between equal ones. A step that breaks more is taken with a chance that falls with each further break, so that
 * the walk passes through orders that break a limit but is at each one that breaks none equally often. It begins at an
 * order drawn from all with equal chances. Chances are fractions made by multiplication alone, the same on any machine.
 * `patience` scales how many steps may be taken until an order without a break is found.
 */
export function sampleOrder(problem: Problem, stream: Stream, patience = 1): Sampled {
  const { length } = problem;
  const walk = walkOver(problem, stream);
  const cold = 1 / (4 * Math.max(2, length));
  const stretch = Math.ceil(1.4 * length) + 300;
  // First to the warmth at which half of the time nothing is broken: there the walk moves about freely, and a look every
  // now and then soon finds it so.
  let chance = walk.adapt(3 * stretch, Math.min(0.5, 4 / length), cold);
  walk.steps(2 * stretch, chance);
  for (let look = 0; walk.broken() > 0 && look < 30 * patience; look++) {
    walk.steps(stretch, chance);
    if (look % 6 === 5) chance = Math.max(cold, chance / 2);
  }
  if (walk.broken() === 0) return walk.result();
  // Stuck: cool it slowly from warm, a few times over, and walk on from what that leads to.
  for (let round = 0; round < 4 * patience; round++) {
    for (let warm = 0.5; warm > cold; warm *= 0.8) walk.steps(3 * stretch, warm);
    for (let look = 0; walk.broken() > 0 && look < 8; look++) walk.steps(stretch, cold);
    if (walk.broken() > 0) continue;
    for (let look = 0; look < 6; look++) {
      walk.steps(3 * stretch, cold);
      if (walk.broken() === 0) break;
    }
    break;
  }
  return walk.result();
}

/** Whole numbers and fractions in quick succession, from a generator of 128 bits (sfc32 of Doty-Humphrey) begun from the stream. */
function quick(stream: Stream) {
  let [a, b, c, counter] = [0, 0, 0, 1].map((each) => stream.whole(0, 0x7fffffff) + each) as [
    number,
    number,
    number,
    number,
  ];
  const next = (): number => {
    const sum = (((a + b) | 0) + counter) | 0;
    counter = (counter + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = (c << 21) | (c >>> 11);
    c = (c + sum) | 0;
    return (sum >>> 0) / 4294967296;
  };
  for (let round = 0; round < 12; round++) next();
  return { unit: next, whole: (from: number, to: number) => from + Math.floor(next() * (to - from + 1)) };
}

function walkOver(problem: Problem, given: Stream) {
  const stream = quick(given);
  const { length, limits, stretches, stretchAt, replacement, kindOf } = problem;
  const kinds = new Int32Array(length);
  const pools = stretches.map(({ rows }) => Int32Array.from(rows, (row) => kindOf.get(row) as number));
  const starts = new Int32Array(stretches.length);
  let position = 0;
  stretches.forEach(({ draws }, index) => {
    const pool = pools[index] as Int32Array;
    starts[index] = position;
    for (let each = 0; each < draws; each++) {
      const pick = replacement ? stream.whole(0, pool.length - 1) : stream.whole(each, draws - 1);
      kinds[position + each] = pool[pick] as number;
      if (!replacement) {
        pool[pick] = pool[each] as number;
        pool[each] = kinds[position + each] as number;
      }
    }
    position += draws;
  });

  const local = limits
    .filter(({ bound }) => !bound.transitions)
    .map(({ bound, classed }) => ({ reach: bound.reach, broken: bound.broken, classOf: classed.classOf }));
  const whole = limits.filter(({ bound }) => bound.transitions);
  const transitions = whole.flatMap(({ bound }) => bound.transitions ?? []);
  let broken = brokenIn(problem, kinds);
  let best = { kinds: kinds.slice(), broken };
  let valid: Int32Array | null = broken === 0 ? kinds.slice() : null;

  /**
   * What the trials at two positions and just after them break, counting only limits that look back and tell apart the
   * two kinds being exchanged; counted up to more than `most`.
   */
  const brokenAround = (a: number, b: number, one: number, other: number, most: number): number => {
    let sum = 0;
    for (let index = 0; index < local.length && sum <= most; index++) {
      const bound = local[index] as (typeof local)[number];
      if (bound.classOf[one] === bound.classOf[other]) continue;
      const endA = Math.min(length - 1, a + bound.reach);
      const fromB = Math.max(b, endA + 1);
      const endB = Math.min(length - 1, b + bound.reach);
      sum += bound.broken(kinds, a, endA);
      if (fromB <= endB) sum += bound.broken(kinds, fromB, endB);
    }
    return sum;
  };
  const touchTransitions = (a: number, b: number, put: boolean) => {
    for (const each of transitions) {
      const change = put ? each.add : each.remove;
      change(kinds, a);
      change(kinds, a + 1);
      if (b !== a && b !== a + 1) change(kinds, b);
      if (b !== a) change(kinds, b + 1);
    }
  };
  const costOfTransitions = () => {
    let sum = 0;
    for (const each of transitions) sum += each.cost();
    return sum;
  };
  /** How many more breaks this step may bring: none, or one with the chance, or two with its square, and so on. */
  const mostTaken = (chance: number): number => {
    const point = stream.unit();
    let most = 0;
    for (let share = chance; point < share && most < 20; share *= chance) most++;
    return most;
  };

  /** Puts the kind `one` at position a and, if b differs, `other` at b; or takes the step back. */
  const change = (a: number, b: number, one: number, other: number, chance: number) => {
    // Where nothing is broken at all, a step that breaks more than chance lets through need not be looked at to the end.
    let before = broken === 0 ? 0 : brokenAround(a, b, one, other, Infinity);
    const allowed = mostTaken(chance);
    if (transitions.length > 0) {
      before += costOfTransitions();
      touchTransitions(a, b, false);
    }
    const old = kinds[b] as number;
    kinds[a] = one;
    if (b !== a) kinds[b] = other;
    let after = 0;
    if (transitions.length > 0) {
      touchTransitions(a, b, true);
      after = costOfTransitions();
    }
    after += brokenAround(a, b, one, other, before + allowed);
    if (after - before <= allowed) {
      broken += after - before;
      if (broken < best.broken) best = { kinds: kinds.slice(), broken };
      return;
    }
    if (transitions.length > 0) touchTransitions(a, b, false);
    kinds[a] = b === a ? old : other;
    if (b !== a) kinds[b] = one;
    if (transitions.length > 0) touchTransitions(a, b, true);
  };

  const exchange = (chance: number) => {
    const one = stream.whole(0, length - 1);
    const stretch = stretchAt[one] as number;
    const start = starts[stretch] as number;
    const other = stream.whole(start, start + (stretches[stretch]?.draws ?? 1) - 1);
    if (kinds[one] === kinds[other]) return;
    const [a, b] = one < other ? [one, other] : [other, one];
    change(a, b, kinds[b] as number, kinds[a] as number, chance);
  };
  const redraw = (chance: number) => {
    const at = stream.whole(0, length - 1);
    const pool = pools[stretchAt[at] as number] as Int32Array;
    const [old, fresh] = [kinds[at] as number, pool[stream.whole(0, pool.length - 1)] as number];
    if (old !== fresh) change(at, at, fresh, old, chance);
  };
  /**
   * Between three trials of one class two runs change places: A x B x C x D becomes A x C x B x D. It leaves the table of
   * transitions as it is, and leads from any order to any other one with the same table (Pevzner, 1995).
   */
  const exchangeRuns = (chance: number) => {
    const one = stream.whole(0, length - 1);
    const { classOf } = (whole[0] as (typeof whole)[number]).classed;
    const wanted = classOf[kinds[one] as number];
    const stretch = stretchAt[one] as number;
    const start = starts[stretch] as number;
    const positions: number[] = [];
    for (let at = start; at < start + (stretches[stretch]?.draws ?? 0); at++)
      if (classOf[kinds[at] as number] === wanted) positions.push(at);
    if (positions.length < 3) return;
    const pick = [0, 1, 2].map(() => positions[stream.whole(0, positions.length - 1)] as number).sort((a, b) => a - b);
    const [i, j, k] = pick as [number, number, number];
    if (i === j || j === k) return;
    const old = kinds.slice(i + 1, k + 1);
    const cut = j - i;
    const before = brokenIn(problem, kinds);
    kinds.set(old.subarray(cut), i + 1);
    kinds.set(old.subarray(0, cut), i + 1 + old.length - cut);
    const after = brokenIn(problem, kinds);
    if (after - before <= mostTaken(chance)) {
      broken = after;
      if (broken < best.broken) best = { kinds: kinds.slice(), broken };
      return;
    }
    kinds.set(old, i + 1);
    brokenIn(problem, kinds);
  };

  const every = transitions.length > 0 ? Math.max(4, Math.floor(length / 4)) : Infinity;
  const step = (number: number, chance: number) => {
    if (number % every === 0) exchangeRuns(chance);
    else if (replacement) redraw(chance);
    else exchange(chance);
  };
  const isFixed = length < 2;
  return {
    steps: (count: number, chance: number) => {
      for (let number = 1; number <= count && !isFixed; number++) step(number, chance);
      if (broken === 0) valid = kinds.slice();
    },
    /** Walks on and warms up while nothing is broken, cools down while something is; gives the chance it came to. */
    adapt: (count: number, begin: number, least: number): number => {
      const gain = 1 / (length + 50);
      let chance = begin;
      let sum = 0;
      for (let number = 1; number <= count && !isFixed; number++) {
        step(number, chance);
        chance = broken === 0 ? Math.min(0.5, chance * (1 + gain)) : Math.max(least, chance * (1 - gain));
        if (number > count / 2) sum += chance;
      }
      return isFixed ? begin : (2 * sum) / count;
    },
    broken: () => broken,
    result: (): Sampled =>
      broken === 0
        ? { kinds, broken: 0 }
        : valid
          ? { kinds: valid, broken: 0 }
          : { kinds: best.kinds, broken: best.broken },
  };
}
