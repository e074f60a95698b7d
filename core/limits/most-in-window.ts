import { object } from "../shape/compound";
import { only as word, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { limitedColumns, limitedValues } from "./columns";
import { mostMemory, type LimitKindOf } from "./kind";

const shape = object({
  kind: word("most-in-window"),
  columns: limitedColumns,
  /** With values here, these count together; without any, each value by itself. */
  only: limitedValues,
  most: whole(0),
  window: whole(2, 1000),
});

/** Any stretch of so many trials holds at most so many of one value, or of some values. */
export const mostInWindow: LimitKindOf<Of<typeof shape>> = {
  shape,
  holdsWithin: true,
  columns: ({ columns }) => columns,
  inWords: ({ columns, only, most, window }, names) =>
    only.length > 0
      ? `at most ${most} ${names.values(only)} in any ${window} trials`
      : `at most ${most} of the same ${names.of(columns)} in any ${window} trials`,
  bind: ({ only, most, window }, { classOf, labels }) => {
    const isCounted = countedClasses(only, labels);
    const base = labels.length + 1;
    const size = base ** (window - 1);
    // Counted together where values are named, each value by itself otherwise.
    const alike = (a: number, b: number) => (only.length > 0 ? isCounted[a] && isCounted[b] : a === b);
    return {
      reach: window - 1,
      broken: (kinds, from, to) => {
        let sum = 0;
        for (let at = from; at <= to; at++) {
          const now = classOf[kinds[at] as number] as number;
          if (!isCounted[now]) continue;
          let found = 1;
          for (let back = Math.min(at, window - 1); back > 0; back--)
            if (alike(classOf[kinds[at - back] as number] as number, now)) found++;
          if (found > most) sum += found - most;
        }
        return sum;
      },
      memory:
        size > mostMemory
          ? null
          : {
              size,
              start: 0,
              step: (memory, kind) => {
                const now = classOf[kind] as number;
                let found = 1;
                for (let rest = memory; rest > 0; rest = Math.floor(rest / base))
                  if (rest % base > 0 && alike((rest % base) - 1, now)) found++;
                if (isCounted[now] && found > most) return -1;
                // Values that are not counted are all alike, so that fewer memories are told apart.
                return (
                  (memory % (size / base)) * base +
                  (isCounted[now] ? (only.length > 0 ? first(isCounted) : now) + 1 : 0)
                );
              },
              mayEnd: () => true,
            },
    };
  },
  contradiction: ({ only, most, window }, { counts, labels, subject, total }) => {
    const isCounted = countedClasses(only, labels);
    const room = Math.floor(total / window) * most + Math.min(most, total % window);
    const tooMany = (count: number, what: string) =>
      Number.isFinite(count) && count > room
        ? `${count} of ${total} trials have ${subject} ${what}: with at most ${most} in any ${window} there is room for ${room}.`
        : null;
    if (only.length > 0)
      return tooMany(
        counts.reduce((sum, count, index) => sum + (isCounted[index] ? count : 0), 0),
        only.map((value) => `“${value}”`).join(" or "),
      );
    if (labels.length * most < window && total >= window)
      return `Any ${window} trials hold at most ${most} of each ${subject}; ${labels.length} different ones fill only ${labels.length * most} of them.`;
    return counts.map((count, index) => tooMany(count, `“${labels[index]}”`)).find((reason) => reason !== null) ?? null;
  },
};

const countedClasses = (only: readonly unknown[], labels: readonly string[]): boolean[] =>
  labels.map((label) => only.length === 0 || only.some((value) => String(value) === label));
const first = (isCounted: readonly boolean[]) => isCounted.indexOf(true);
