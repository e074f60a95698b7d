/** What a person did in a condition, added up. */
export type Sums = {
  trials: number;
  /** Trials in which something is right, and those that were. */
  scored: number;
  right: number;
  /** The times that count, in milliseconds. */
  rts: number[];
  /** Scored trials with the signal and without it, and those of each in which somebody said that it was there. */
  signals: number;
  hits: number;
  noises: number;
  falseAlarms: number;
  /** Of a column of numbers. */
  values: number[];
};
/** The same of all persons, by person and by the name of the condition. */
export type People = Map<string, Map<string, Sums>>;

/** A trial as it is added up. */
export type ScoredTrial = {
  /** Null where nothing is right or wrong. */
  right: boolean | null;
  /** Null where no time is taken. */
  rt: number | null;
  /** Whether there was a signal; null where that is not asked. */
  isSignal?: boolean | null;
  isAnswered?: boolean;
  value?: number | null;
};

/** Adds a trial to what a person did in a condition. */
export function addTrial(
  person: Map<string, Sums>,
  cell: string,
  { right, rt, isSignal = null, isAnswered = true, value = null }: ScoredTrial,
): void {
  const sums = person.get(cell) ?? noSums();
  person.set(cell, sums);
  sums.trials++;
  if (right !== null) sums.scored++;
  if (right === true) sums.right++;
  if (rt !== null) sums.rts.push(rt);
  if (value !== null) sums.values.push(value);
  if (right === null || isSignal === null) return;
  if (isSignal) {
    sums.signals++;
    if (right) sums.hits++;
  } else {
    sums.noises++;
    // Whoever does not answer has not said that there was a signal.
    if (!right && isAnswered) sums.falseAlarms++;
  }
}

const noSums = (): Sums => ({
  ...{ trials: 0, scored: 0, right: 0, rts: [], values: [] },
  ...{ signals: 0, hits: 0, noises: 0, falseAlarms: 0 },
});

/** What was done in several conditions, or sessions, together; null of none. */
export function together(all: readonly Sums[]): Sums | null {
  if (all.length <= 1) return all[0] ?? null;
  const whole = noSums();
  for (const sums of all) {
    for (const name of ["trials", "scored", "right", "signals", "hits", "noises", "falseAlarms"] as const)
      whole[name] += sums[name];
    whole.rts = whole.rts.concat(sums.rts);
    whole.values = whole.values.concat(sums.values);
  }
  return whole;
}
