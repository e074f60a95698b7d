import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";
import { centreNames, centreOf, centres, type Centre } from "./centre";
import { mean } from "./describe";
import type { People, Sums } from "./sums";

/** A number a condition gives of a person, and how it is written. */
export type Measure = {
  /** In a sentence; “trimmed mean reaction time”. */
  called: string;
  /** Beside the axis, with its unit. */
  axis: string;
  unit: string;
  /** What a value is multiplied with before it is written. */
  times: number;
  digits: number;
  /** It is a time, which may be of right answers alone. */
  isTime: boolean;
  /** Of one condition; `all` is what persons did in all of them. Null where it cannot be told. */
  of: (sums: Sums, all: People) => number | null;
};

const timed = (centre: Centre): Measure => ({
  called: `${centres[centre]} reaction time`,
  axis: `${centres[centre]} reaction time, ms`,
  unit: "ms",
  times: 1,
  digits: 0,
  isTime: true,
  of: ({ rts }) => centreOf(rts, centre),
});

const accuracyOf = ({ right, scored }: Sums): number | null => (scored === 0 ? null : right / scored);

/**
 * Hit and false-alarm rates as standard scores, with half a trial added to hits and false alarms and one to the trials of each
 * (the log-linear correction; Hautus, 1995); null unless there are trials of both sorts.
 */
function detection({ signals, hits, noises, falseAlarms }: Sums): { hit: number; falseAlarm: number } | null {
  if (signals === 0 || noises === 0) return null;
  const z = (yes: number, trials: number) => normalQuantile((yes + 0.5) / (trials + 1), 0, 1);
  return { hit: z(hits, signals), falseAlarm: z(falseAlarms, noises) };
}

type Spread = { mean: number; deviation: number };
/** Mean and standard deviation, with n, of what all persons did in all conditions. */
const spreads = new WeakMap<People, { time: Spread | null; accuracy: Spread | null }>();
function spreadsOf(people: People) {
  const known = spreads.get(people);
  if (known) return known;
  const both = [...people.values()].flatMap((own) =>
    [...own.values()].flatMap((sums) => {
      const [time, accuracy] = [mean(sums.rts), accuracyOf(sums)];
      return time === null || accuracy === null ? [] : [{ time, accuracy }];
    }),
  );
  const spread = (values: number[]): Spread | null => {
    const centre = mean(values);
    if (centre === null) return null;
    const squares = values.reduce((sum, value) => sum + (value - centre) ** 2, 0);
    return { mean: centre, deviation: Math.sqrt(squares / values.length) };
  };
  const found = { time: spread(both.map(({ time }) => time)), accuracy: spread(both.map(({ accuracy }) => accuracy)) };
  spreads.set(people, found);
  return found;
}

const own = {
  accuracy: {
    called: "share of right answers",
    axis: "right answers, %",
    unit: "%",
    times: 100,
    digits: 1,
    isTime: false,
    of: accuracyOf,
  },
  /** Mean time divided by the share of right answers (Townsend & Ashby, 1978), in milliseconds. */
  inverse: {
    called: "inverse efficiency",
    axis: "inverse efficiency, ms",
    unit: "ms",
    times: 1,
    digits: 0,
    isTime: false,
    of: (sums) => {
      const [time, accuracy] = [mean(sums.rts), accuracyOf(sums)];
      return time === null || !accuracy ? null : time / accuracy;
    },
  },
  /**
   * Standardized share of right answers less standardized mean time, each by the mean and the standard deviation (with n) of all
   * persons in all conditions that are shown (Liesefeld & Janczyk, 2019).
   */
  balanced: {
    called: "balanced integration score",
    axis: "balanced integration score",
    unit: "",
    times: 1,
    digits: 2,
    isTime: false,
    of: (sums, all) => {
      const [time, accuracy] = [mean(sums.rts), accuracyOf(sums)];
      const spread = spreadsOf(all);
      if (time === null || accuracy === null || !spread.time?.deviation || !spread.accuracy?.deviation) return null;
      return (
        (accuracy - spread.accuracy.mean) / spread.accuracy.deviation -
        (time - spread.time.mean) / spread.time.deviation
      );
    },
  },
  /** z(hits) − z(false alarms) (Green & Swets, 1966), with the correction of Hautus (1995). */
  sensitivity: {
    called: "sensitivity d′",
    axis: "d′",
    unit: "",
    times: 1,
    digits: 2,
    isTime: false,
    of: (sums) => {
      const rates = detection(sums);
      return rates && rates.hit - rates.falseAlarm;
    },
  },
  /**
   * The same divided by √2, where each trial showed both alternatives and one had to be chosen (Macmillan & Creelman, 2005): the
   * signal is one of the two places or intervals, a false alarm the choice of it where it was the other.
   */
  choiceSensitivity: {
    called: "sensitivity d′ of two alternatives",
    axis: "d′ of two alternatives",
    unit: "",
    times: 1,
    digits: 2,
    isTime: false,
    of: (sums) => {
      const rates = detection(sums);
      return rates && (rates.hit - rates.falseAlarm) / Math.SQRT2;
    },
  },
  /** −(z(hits) + z(false alarms)) / 2 (Macmillan & Creelman, 2005); above 0 where one rather says that nothing was there. */
  criterion: {
    called: "criterion c",
    axis: "criterion c",
    unit: "",
    times: 1,
    digits: 2,
    isTime: false,
    of: (sums) => {
      const rates = detection(sums);
      return rates && -(rates.hit + rates.falseAlarm) / 2;
    },
  },
  trials: {
    called: "number of trials",
    axis: "trials",
    unit: "",
    times: 1,
    digits: 1,
    isTime: false,
    of: ({ trials }) => trials,
  },
  /** The mean of a column’s numbers; it is called as the column is. */
  column: {
    called: "a column’s numbers",
    axis: "",
    unit: "",
    times: 1,
    digits: 2,
    isTime: false,
    of: ({ values }) => mean(values),
  },
} satisfies Record<string, Measure>;

/** All that conditions can be compared by. */
export const measures = {
  ...(Object.fromEntries(centreNames.map((name) => [name, timed(name)])) as Record<Centre, Measure>),
  ...(own as Record<keyof typeof own, Measure>),
};
export type MeasureName = keyof typeof measures;
export const measureNames = Object.keys(measures) as MeasureName[];

/** Those that need to know in which trials there was a signal. */
export const ofDetection = (name: MeasureName): boolean =>
  name === "sensitivity" || name === "choiceSensitivity" || name === "criterion";

/** What each person has in each condition; null where it cannot be told. */
export type Values = ReadonlyMap<string, ReadonlyMap<string, number | null>>;

export const valuesOf = (people: People, name: MeasureName): Values =>
  new Map(
    [...people].map(([person, cells]) => [
      person,
      new Map([...cells].map(([cell, sums]) => [cell, measures[name].of(sums, people)])),
    ]),
  );
