import { object } from "../shape/compound";
import { oneOf, only as word, whole } from "../shape/plain";
import type { Of } from "../shape/shape";
import { id } from "../values/ref";
import { limitedValues } from "./columns";
import { counted, type LimitKindOf } from "./kind";

const shape = object({
  kind: word("edge-trials"),
  at: oneOf("first", "last"),
  column: id,
  only: limitedValues,
  count: whole(1),
});

/** The first or last trials are only of some kinds. */
export const edgeTrials: LimitKindOf<Of<typeof shape>> = {
  shape,
  holdsWithin: false,
  columns: ({ column }) => [column],
  inWords: ({ at, only, count }, names) =>
    `only ${names.values(only)} in the ${at} ${count === 1 ? "trial" : `${count} trials`}`,
  bind: ({ at: side, only, count }, { classOf, labels, total }) => {
    const fits = labels.map((label) => only.some((value) => String(value) === label));
    const isEdge = (at: number) => (side === "first" ? at < count : at >= total - count);
    const breaks = (kind: number, at: number) => isEdge(at) && !fits[classOf[kind] as number];
    return {
      reach: 0,
      broken: (kinds, from, to) => {
        let found = 0;
        for (let at = from; at <= to; at++) if (breaks(kinds[at] as number, at)) found++;
        return found;
      },
      memory: { size: 1, start: 0, step: (_, kind, at) => (breaks(kind, at) ? -1 : 0), mayEnd: () => true },
    };
  },
  contradiction: ({ at, only, count }, { counts, labels, subject, total }) => {
    const fitting = counts.reduce(
      (sum, each, index) => sum + (only.some((value) => String(value) === labels[index]) ? each : 0),
      0,
    );
    const needed = Math.min(count, total);
    return fitting < needed
      ? `The ${at} ${counted(needed, "trial")} should have ${subject} ${only.map((value) => `“${value}”`).join(" or ") || "of a kind that is not chosen"}; there ${fitting === 1 ? "is" : "are"} ${fitting}.`
      : null;
  },
};
