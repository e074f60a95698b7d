import { startCase } from "~/core/describe/in-words";
import { centres, trimmedShare } from "~/core/stats/centre";
import { measureNames, measures, type Measure } from "~/core/stats/measures";
import type { Measured } from "~/server/results/measured";

/** The measures that a figure can show, as the address has them and in words. */
export const measuresOf = ({ numbers }: Measured, rightOnly: boolean): readonly (readonly [string, string])[] => [
  ...measureNames.filter((name) => name !== "column").map((name) => [name, saysOf(measures[name], rightOnly)] as const),
  ...numbers.map((name) => [`column:${name}`, `mean of ${name}`] as const),
];

const saysOf = ({ called, isTime }: Measure, rightOnly: boolean) =>
  `${called}${isTime && rightOnly ? " of right answers" : ""}`;

/** A measure as a figure shows it. */
export type ShownMeasure = {
  /** As the address has it. */
  value: string;
  says: string;
  /** Beside the axis. */
  axis: string;
  unit: string;
  /** As a number is drawn, and as it is written. */
  drawn: (value: number) => number;
  written: (value: number | null, moreDigits?: number) => string;
  isShare: boolean;
};

/** How the measure that was asked for is shown. */
export function shownMeasure({ measure, column }: Measured, rightOnly: boolean): ShownMeasure {
  const kind = measures[measure];
  const { axis, unit, times, digits, isTime } = kind;
  return {
    value: column === null ? measure : `column:${column}`,
    says: column === null ? startCase(saysOf(kind, rightOnly)) : `Mean of ${column}`,
    axis: column ?? `${axis}${isTime && rightOnly ? " (right answers)" : ""}`,
    unit,
    drawn: (value) => value * times,
    written: (value, moreDigits = 0) => (value === null ? "" : (value * times).toFixed(digits + moreDigits)),
    isShare: times === 100,
  };
}

/** How the numbers of the measure came about. */
export function howMeasured({ measure, column, signal }: Measured, rightOnly: boolean): string {
  const late = " A missing or late answer counts as not right.";
  const right = rightOnly ? " Times are of right answers only." : "";
  const detected = `, with half a trial added to hits and to false alarms, and one to the trials of each. The signal is there where ${signal?.column} is ${signal?.level}`;
  switch (measure) {
    case "accuracy":
      return `Each session counts once: means of the sessions’ shares.${late}`;
    case "inverse":
      return `Each session counts once: its mean time divided by its share of right answers.${late}${right}`;
    case "balanced":
      return `Each session counts once: its standardized share of right answers less its standardized mean time, by mean and standard deviation over all sessions and conditions shown.${late}${right}`;
    case "sensitivity":
      return `Each session counts once: z(hits) − z(false alarms)${detected}; a trial without an answer counts as “no signal”.`;
    case "choiceSensitivity":
      return `Each session counts once: (z(hits) − z(false alarms)) / √2, for trials that show both alternatives and ask which is which${detected}; a trial without an answer counts as the other alternative.`;
    case "criterion":
      return `Each session counts once: −(z(hits) + z(false alarms)) / 2${detected}; a trial without an answer counts as “no signal”.`;
    case "trials":
      return "Each session counts once, with the trials that are kept.";
    case "column":
      return `Each session counts once, with the mean of ${column} in its trials; what it has once, it has in all of its conditions.`;
    default:
      return `Each session counts once: means of the sessions’ ${centres[measure]}s${
        measure === "trimmed"
          ? ` (of each session’s times the fastest and the slowest ${trimmedShare * 100} % are left out)`
          : ""
      }.${right}`;
  }
}
