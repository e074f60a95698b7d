import { object } from "../shape/compound";
import { only, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { limitedColumns } from "./columns";
import { counted, mostMemory, type LimitKindOf } from "./kind";

const shape = object({ kind: only("smallest-gap"), columns: limitedColumns, atLeast: whole(1, 1000) });

/** At least so many other trials between two with equal values. */
export const smallestGap: LimitKindOf<Of<typeof shape>> = {
  shape,
  holdsWithin: true,
  columns: ({ columns }) => columns,
  inWords: ({ columns, atLeast }, names) =>
    columns.length === 0 && atLeast === 1
      ? "no row directly after itself"
      : `at least ${counted(atLeast, "other trial")} between two with the same ${names.of(columns)}`,
  bind: ({ atLeast }, { classOf, labels }) => {
    // The classes of the last trials, the newest in the lowest place; 0 stands for none yet.
    const base = labels.length + 1;
    const size = base ** atLeast;
    return {
      reach: atLeast,
      broken: (kinds, from, to) => {
        let found = 0;
        for (let at = from; at <= to; at++) {
          const now = classOf[kinds[at] as number] as number;
          const first = at > atLeast ? at - atLeast : 0;
          for (let before = first; before < at; before++) if (classOf[kinds[before] as number] === now) found++;
        }
        return found;
      },
      memory:
        size > mostMemory
          ? null
          : {
              size,
              start: 0,
              step: (memory, kind) => {
                const now = (classOf[kind] as number) + 1;
                for (let rest = memory; rest > 0; rest = Math.floor(rest / base)) if (rest % base === now) return -1;
                return (memory % (size / base)) * base + now;
              },
              mayEnd: () => true,
            },
    };
  },
  contradiction: ({ atLeast }, { counts, labels, subject, total }) => {
    const span = atLeast + 1;
    if (total >= span && labels.length < span)
      return `With at least ${atLeast} others between equal ones, any ${span} trials in a row need ${span} different ${subject} values; there are ${labels.length}.`;
    const found = counts.findIndex((count) => Number.isFinite(count) && (count - 1) * span + 1 > total);
    if (found >= 0) {
      const count = counts[found] as number;
      return `${counted(count, "trial")} have ${subject} “${labels[found]}”: with ${atLeast} others between each two of them at least ${(count - 1) * span + 1} trials are needed, there are ${total}.`;
    }
    // In each stretch of `span` trials a value stands at most once.
    const room = counts.reduce((sum, count) => sum + Math.min(count, Math.ceil(total / span)), 0);
    return room < total
      ? `Each ${subject} can stand at most ${Math.ceil(total / span)} times in ${total} trials with ${atLeast} others between equal ones, which gives room for ${room} of them.`
      : null;
  },
};
