/*
 * Rows of a pool are given to trials that can take them. Trials that can take the same rows make a class; how many each
 * class gets is a matching with capacities in a bipartite graph.
 */

/** Trials that can take the same rows. */
export type MatchClass = {
  /** How many rows it needs. */
  needs: number;
  /** The rows it can take, by index. */
  rows: readonly number[];
};

/** Rows that classes need and cannot have: together they need so many of so few (Hall 1935). */
export type Shortage = { classes: number[]; needs: number; has: number };

export type Matching = {
  /** The rows each class gets, as many as it can have. */
  given: number[][];
  /** What is lacking, each class named in at most one; empty where all get what they need. */
  shortages: Shortage[];
  /** Whether it was gone through to its end, so that what is lacking cannot be had. */
  isProven: boolean;
};

/** The search is broken off after so many steps, with what has been found by then. */
const mostSteps = 20_000_000;

/**
 * Gives rows to classes, each row at most once. `preferred` lists the rows in the order in which they are to be used; since
 * the sets of rows that can be given are the independent ones of a transversal matroid (Edmonds & Fulkerson 1965), going
 * through them in this order uses the preferred ones as far as any solution can. As many rows are given as is possible.
 */
export function matched(classes: readonly MatchClass[], preferred: readonly number[]): Matching {
  const takersOf = new Map<number, number[]>();
  classes.forEach(({ rows }, index) => {
    for (const row of rows) {
      const takers = takersOf.get(row);
      if (takers) takers.push(index);
      else takersOf.set(row, [index]);
    }
  });
  const given: Set<number>[] = classes.map(() => new Set());
  const holderOf = new Map<number, number>();
  /** Classes that cannot take a row any more, nor pass one on. */
  const isClosed = classes.map(({ needs }) => needs === 0);
  let left = classes.reduce((sum, { needs }) => sum + needs, 0);
  let steps = 0;

  /** The shortest way from a row to a class with room, from its end: each class on it passes a row on to the next. */
  const pathFrom = (row: number): Move[] | null => {
    const cameBy = new Map<number, { row: number; from: number | null }>();
    const reached: number[] = [];
    const reach = (passed: number, from: number | null) => {
      for (const taker of takersOf.get(passed) ?? []) {
        steps++;
        if (isClosed[taker] || cameBy.has(taker)) continue;
        cameBy.set(taker, { row: passed, from });
        reached.push(taker);
      }
    };
    reach(row, null);
    for (let at = 0; at < reached.length; at++) {
      const here = reached[at] as number;
      const held = given[here] as Set<number>;
      if (held.size < (classes[here] as MatchClass).needs) {
        const path: Move[] = [];
        for (let to: number | null = here; to !== null;) {
          const { row: moved, from } = cameBy.get(to) as { row: number; from: number | null };
          path.push({ row: moved, to });
          to = from;
        }
        return path;
      }
      for (const passed of held) reach(passed, here);
    }
    // What was reached has no room and leads nowhere else: later rows need not look there again.
    for (const taker of reached) isClosed[taker] = true;
    return null;
  };

  for (const row of preferred) {
    if (left === 0 || steps > mostSteps) break;
    const path = pathFrom(row);
    if (!path) continue;
    for (const { row: moved, to } of path) {
      const holder = holderOf.get(moved);
      if (holder !== undefined) given[holder]?.delete(moved);
      given[to]?.add(moved);
      holderOf.set(moved, to);
    }
    left--;
  }
  return {
    given: given.map((rows) => [...rows]),
    shortages: left === 0 ? [] : shortagesIn(classes, given, holderOf),
    isProven: steps <= mostSteps,
  };
}
type Move = { row: number; to: number };

/** Which classes share what is too little: those whose rows all went to one another. */
function shortagesIn(
  classes: readonly MatchClass[],
  given: readonly ReadonlySet<number>[],
  holderOf: ReadonlyMap<number, number>,
): Shortage[] {
  let groups: Set<number>[] = [];
  classes.forEach(({ needs }, index) => {
    if ((given[index]?.size ?? 0) >= needs || groups.some((group) => group.has(index))) return;
    const together = new Set([index]);
    // Sets are gone through with what is added meanwhile.
    for (const each of together)
      for (const row of classes[each]?.rows ?? []) {
        const holder = holderOf.get(row);
        if (holder !== undefined) together.add(holder);
      }
    const met = groups.filter((group) => [...together].some((each) => group.has(each)));
    const joined = new Set([...together, ...met.flatMap((group) => [...group])]);
    groups = [...groups.filter((group) => !met.includes(group)), joined];
  });
  return groups.map((group) => ({
    classes: [...group],
    needs: [...group].reduce((sum, each) => sum + (classes[each] as MatchClass).needs, 0),
    has: new Set([...group].flatMap((each) => classes[each]?.rows ?? [])).size,
  }));
}
