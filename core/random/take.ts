import { streamFor, type Stream } from "./stream";
import { shuffled } from "./shuffle";

/**
 * Takes `count` things for the turn-th time (from 0), so that over the turns each is taken equally often: exactly so
 * after as many turns as there are things. Each stratum keeps its share: its whole part in every turn, a rest by turns
 * (systematic sampling, with a start that goes through all its values). Within a stratum the turns go through one
 * shuffled list of its things after another; where a turn reaches from one list into the next, the next begins with
 * things that the turn does not have yet. More than there are: all of them as often as they go whole, and the rest so.
 * `strata` lists the things of each stratum; `key` names the draw. The result is in no particular order.
 */
export function takeEvenly<T>(
  strata: readonly (readonly T[])[],
  count: number,
  turn: number,
  key: readonly (string | number)[],
): T[] {
  const size = strata.reduce((sum, each) => sum + each.length, 0);
  if (size === 0) return [];
  const quotaOf = quotas(strata, size, count, key);
  const lists = strata.map((things, stratum) => endlessList(things, [...key, "stratum", stratum]));
  // After so many turns every list has come to its end, so that what follows does not depend on what was before.
  const begin = turn - (turn % size);
  for (let each = begin; ; each++) {
    const taken = lists.flatMap((list, stratum) => list(quotaOf(stratum, each), Math.floor(begin / size)));
    if (each === turn) return taken;
  }
}

/** How many of each stratum a turn takes. Whole numbers throughout, so that no rounding can shift them. */
function quotas(
  strata: readonly (readonly unknown[])[],
  size: number,
  count: number,
  key: readonly (string | number)[],
): (stratum: number, turn: number) => number {
  const starts = shuffled(
    Array.from({ length: size }, (_, index) => index),
    streamFor(...key, "starts"),
  );
  const ends = strata.map((_, stratum) => strata.slice(0, stratum + 1).reduce((sum, each) => sum + each.length, 0));
  return (stratum, turn) => {
    const upTo = (end: number) => Math.floor((count * end + (starts[turn % size] as number)) / size);
    return upTo(ends[stratum] as number) - upTo(ends[stratum - 1] ?? 0);
  };
}

/** Gives the next things of shuffled lists that follow each other without end, none twice in one go unless all are. */
function endlessList<T>(
  things: readonly T[],
  key: readonly (string | number)[],
): (count: number, cycle: number) => T[] {
  let list: T[] = [];
  /** How many of the list have been given. */
  let gone = 0;
  let number = 0;
  return (count, cycle) => {
    const taken = Array.from({ length: Math.floor(count / Math.max(1, things.length)) }, () => things).flat();
    const held: T[] = [];
    for (let rest = count - taken.length; rest > 0; rest--) {
      if (gone === list.length) {
        list = shuffledWithout(things, held, rest, streamFor(...key, cycle, number++));
        gone = 0;
      }
      held.push(list[gone++] as T);
    }
    return [...taken, ...held];
  };
}

/** All in a shuffled order whose first `first` are none of the held ones; every such order is equally likely. */
function shuffledWithout<T>(all: readonly T[], held: readonly T[], first: number, stream: Stream): T[] {
  if (held.length === 0) return shuffled(all, stream);
  const isHeld = new Set(held);
  const free = shuffled(
    all.filter((each) => !isHeld.has(each)),
    stream,
  );
  return [...free.slice(0, first), ...shuffled([...free.slice(first), ...held], stream)];
}
