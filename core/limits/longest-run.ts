import { object } from "../shape/compound";
import { only, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { limitedColumns } from "./columns";
import { counted, type LimitKindOf } from "./kind";

const shape = object({ kind: only("longest-run"), columns: limitedColumns, most: whole(1, 1000) });

/** At most so many trials with equal values directly after each other. */
export const longestRun: LimitKindOf<Of<typeof shape>> = {
  shape,
  holdsWithin: true,
  columns: ({ columns }) => columns,
  inWords: ({ columns, most }, names) =>
    most === 1
      ? `no two equal values of ${names.of(columns)} in a row`
      : `no more than ${most} equal values of ${names.of(columns)} in a row`,
  bind: ({ most }, { classOf, labels }) => ({
    reach: most,
    broken: (kinds, from, to) => {
      let before = classOf[kinds[from] as number] as number;
      let run = 1;
      for (let at = from - 1; at >= 0 && run <= most && classOf[kinds[at] as number] === before; at--) run++;
      let found = run > most ? 1 : 0;
      for (let at = from + 1; at <= to; at++) {
        const now = classOf[kinds[at] as number] as number;
        run = now === before ? run + 1 : 1;
        before = now;
        if (run > most) found++;
      }
      return found;
    },
    // Which class the run is of, and how long it is: class × most + length; 0 before the first trial.
    memory: {
      size: labels.length * most + 1,
      start: 0,
      step: (memory, kind) => {
        const now = classOf[kind] as number;
        const before = memory === 0 ? -1 : Math.floor((memory - 1) / most);
        const length = before === now ? ((memory - 1) % most) + 2 : 1;
        return length > most ? -1 : now * most + length;
      },
      mayEnd: () => true,
    },
  }),
  contradiction: ({ most }, { counts, labels, subject, total }) => {
    if (labels.length === 1 && total > most)
      return `All ${counted(total, "trial")} have the same ${subject}, so there are always more than ${most} in a row.`;
    const found = counts.findIndex((count) => Number.isFinite(count) && Math.ceil(count / most) - 1 > total - count);
    if (found < 0) return null;
    const count = counts[found] as number;
    const others = total - count;
    return `${count} of ${counted(total, "trial")} have ${subject} “${labels[found]}”: with at most ${most} in a row at least ${Math.ceil(count / most) - 1} others are needed between them, there ${others === 1 ? "is" : "are"} ${others}.`;
  },
};
