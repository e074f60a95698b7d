import { leftOutNames } from "../../core/exclusions/columns";
import type { Rule } from "../../core/exclusions/registry";
import { coded, numbersOf } from "../../core/tidy/column";
import { hiddenOfTrials } from "../../core/tidy/hidden-columns";
import type { TidyData } from "../tidy/tidy-data";

/** The trials of some data as results count them, by their rows. */
export type CountedTrials = {
  /** 1 for right, 0 for not right; NaN where nothing is right or wrong. */
  right: Float64Array;
  /** In milliseconds, whether or not it is left out; NaN where there is none. */
  rt: Float64Array;
  /** Whether the trial is left out, or only its time. */
  isOut: (row: number) => boolean;
  isTimeOut: (row: number) => boolean;
  /** The time where it is in, else NaN. */
  timeAt: (row: number) => number;
};

export async function countedTrials(data: TidyData): Promise<CountedTrials> {
  const of = (name: string) => data.column("trials", name);
  const [right, rt] = [numbersOf(await of(hiddenOfTrials.right)), numbersOf(await of(hiddenOfTrials.rt))];
  const { codes, cells } = coded(await of(leftOutNames.is));
  const [areOut, areTimesOut] = [cells.map((cell) => cell === "yes"), cells.map((cell) => cell === "times")];
  const isOut = (row: number) => areOut[codes[row] as number] === true;
  const isTimeOut = (row: number) => areTimesOut[codes[row] as number] === true;
  return { right, rt, isOut, isTimeOut, timeAt: (row) => (isTimeOut(row) ? NaN : (rt[row] as number)) };
}

/** A score or a time as sums take them: null where there is none. */
export const scoreOrNull = (score: number): boolean | null => (Number.isNaN(score) ? null : score === 1);
export const timeOrNull = (time: number): number | null => (Number.isNaN(time) ? null : time);

/** Whether times are of right answers only, by the exclusions in use. */
export const takesRightOnly = (rules: readonly Rule[]): boolean =>
  rules.some(({ kind, isOn }) => kind === "wrong" && isOn);
