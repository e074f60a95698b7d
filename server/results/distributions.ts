import {
  accuracyBySpeed,
  cumulative,
  deltas,
  densities,
  exGaussians,
  histograms,
  mostCurves,
  shapeNames,
  vincentized,
  type Curve,
  type Shape,
  type Timed,
} from "../../core/stats/distributions";
import { fittedFrom, usuallyFittedFrom } from "../../core/stats/ex-gaussian";
import type { TidyData } from "../tidy/tidy-data";
import { countedTrials, takesRightOnly } from "./counted-trials";
import { comparableColumns, inDesignOrder, levelled, type Comparable } from "./comparable";
import type { Result } from "./result";

export type DistributionQuestion = {
  shape: Shape;
  columns: string[];
  /** The column to compare by; null for all trials together. */
  by: string | null;
  /** The two conditions whose difference a delta plot shows, where they were chosen. */
  from: string | null;
  to: string | null;
  /** The fewest times in a condition to which a distribution is fitted. */
  fewest: number;
};
export type DistributionAnswer = {
  levels: string[];
  /** The pair of a delta plot: the second's times minus the first's. */
  pair: [string, string] | null;
  curves: Curve[];
  /** Of a histogram's bins, in milliseconds. */
  width: number | null;
  /** How many fits would have to be made, where these are more than a question can wait for. */
  tooManyFits: number | null;
  sessions: number;
  /** Whether a session can have several of the conditions; else those of the curves are different ones. */
  isWithin: boolean;
  rightOnly: boolean;
};

/** A fit takes about a millisecond. */
const mostFits = 6000;

/** How times are distributed, by condition. */
export const distributions: Result<DistributionQuestion, DistributionAnswer> = {
  ask: (query, reader) => {
    const columns = comparableColumns(reader);
    const wanted = query.get("by");
    const usual = columns.find(({ isFactor }) => isFactor)?.name ?? null;
    const by = columns.find(({ name, isNow }) => wanted && (name === wanted || isNow(wanted)))?.name;
    return {
      shape: shapeNames.find((each) => each === query.get("shape")) ?? "quantiles",
      columns: columns.map(({ name }) => name),
      by: by ?? (wanted === "" ? null : usual),
      from: query.get("from"),
      to: query.get("to"),
      fewest: fittedFrom.find((count) => String(count) === query.get("fewest")) ?? usuallyFittedFrom,
    };
  },
  answer: async ({ reader, tidy, rules }, { shape, by, from, to, fewest }) => {
    const column = comparableColumns(reader).find(({ name }) => name === by);
    const { people, seen } = await tidy((data) => timesIn(data, column));
    const levels = by === null ? [""] : inDesignOrder(column, seen);
    const first = levels.find((level) => level === from) ?? levels[0];
    const second = levels.find((level) => level === to && level !== first) ?? levels.find((level) => level !== first);
    // A column of words may have hundreds of values.
    const drawn = shape === "delta" || levels.length <= mostCurves ? levels : [];
    const pair: [string, string] | null =
      shape === "delta" && first !== undefined && second !== undefined ? [first, second] : null;
    const histogram = shape === "histogram" ? histograms(people, drawn) : null;
    const fits = [...people.values()].reduce(
      (sum, own) => sum + [...own.values()].filter(({ times }) => times.length >= fewest).length,
      0,
    );
    const hasTooMany = shape === "ex-gaussian" && fits > mostFits;
    const curves = (): Curve[] => {
      switch (shape) {
        case "quantiles":
          return vincentized(people, drawn);
        case "density":
          return densities(people, drawn);
        case "histogram":
          return histogram?.curves ?? [];
        case "cumulative":
          return cumulative(people, drawn);
        case "delta":
          return pair ? [deltas(people, pair)] : [];
        case "accuracy":
          return accuracyBySpeed(people, drawn);
        case "ex-gaussian":
          return hasTooMany ? [] : exGaussians(people, drawn, fewest);
      }
    };
    return {
      levels,
      pair,
      curves: curves(),
      width: histogram?.width ?? null,
      tooManyFits: hasTooMany ? fits : null,
      sessions: people.size,
      isWithin: [...people.values()].some((own) => own.size > 1),
      rightOnly: takesRightOnly(rules),
    };
  },
};

/** The times of each session in each condition: those that are in, and beside them all answered trials with whether they were right. */
async function timesIn(
  data: TidyData,
  by: Comparable | undefined,
): Promise<{ people: Map<string, Map<string, Timed>>; seen: Set<string> }> {
  const level = by === undefined ? null : levelled(await data.column("trials", by.exported));
  const { right, rt, isOut, isTimeOut } = await countedTrials(data);
  const people = new Map<string, Map<string, Timed>>();
  const seen = new Set<string>();
  let row = 0;
  for (const sitting of data.sittings) {
    const own = new Map<number, { times: number[]; answered: { time: number; right: number }[] }>();
    for (const end = row + data.rowsOf("trials", sitting); row < end; row++) {
      const time = rt[row] as number;
      if (isOut(row) || Number.isNaN(time)) continue;
      const code = level?.codes[row] ?? 0;
      let held = own.get(code);
      if (!held) own.set(code, (held = { times: [], answered: [] }));
      if (!isTimeOut(row)) held.times.push(time);
      // Wrong answers are what accuracy is about, though their times may be out.
      if (!isTimeOut(row) || right[row] === 0) {
        const score = right[row] as number;
        if (!Number.isNaN(score)) held.answered.push({ time, right: score });
      }
    }
    if (own.size === 0) continue;
    const byLevel = new Map<string, Timed>();
    for (const [code, { times, answered }] of own) {
      const name = level?.levels[code] ?? "";
      seen.add(name);
      answered.sort((a, b) => a.time - b.time);
      byLevel.set(name, {
        times: Float64Array.from(times).sort(),
        speeds: Float64Array.from(answered, (each) => each.time),
        right: Uint8Array.from(answered, (each) => each.right),
      });
    }
    people.set(sitting.facts.session, byLevel);
  }
  return { people, seen };
}
