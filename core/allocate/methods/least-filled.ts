import type { Id } from "../../values/ref";
import { streamFor } from "../../random/stream";
import { cellKey, assignmentTo, schemeOf } from "../scheme";
import type { Method } from "./method";

/** The group with the fewest sessions for its share, and in it the cell with the fewest; ties are drawn. */
export const leastFilled: Method = (document, { participant, stratum, counts }) => {
  const stream = streamFor(document.settings.seed, "ties", participant, stratum);
  const schemes = schemeOf(document);
  const byGroup = new Map<Id, number>();
  for (const [key, count] of counts) {
    const group = key.split(" ")[0] as Id;
    byGroup.set(group, (byGroup.get(group) ?? 0) + count);
  }
  // Compared as fractions of whole numbers, so that shares of 1 : 3 tie exactly.
  const load = (index: number) => ({
    count: byGroup.get(schemes[index]?.group ?? "") ?? 0,
    share: schemes[index]?.share ?? 1,
  });
  const isLess = (a: number, b: number) => load(a).count * load(b).share < load(b).count * load(a).share;
  const all = schemes.map((_, index) => index);
  const fewest = all.filter((index) => !all.some((other) => isLess(other, index)));
  const scheme = schemes[fewest[stream.whole(0, fewest.length - 1)] as number];
  if (!scheme) return { group: document.groups[0]?.id ?? "", orders: {} };
  const cells = Array.from({ length: scheme.cells }, (_, cell) => counts.get(cellKey(assignmentTo(scheme, cell))) ?? 0);
  const least = Math.min(...cells);
  const free = cells.flatMap((count, cell) => (count === least ? [cell] : []));
  return assignmentTo(scheme, free[stream.whole(0, free.length - 1)] as number);
};
