import { startCase } from "~/core/describe/in-words";
import { measureNames, measures, type Measure } from "~/core/stats/measures";
import type { Measured } from "~/server/results/measured";

/** The measures that a figure can show, as the address has them and in words. */
export const measuresOf = ({ numbers }: Measured, rightOnly: boolean): readonly (readonly [string, string])[] => [
  ...measureNames.filter((name) => name !== "column").map((name) => [name, saysOf(measures[name], rightOnly)] as const),
  ...numbers.map((name) => [`column:${name}`, `mean of ${name}`] as const),
];

const saysOf = ({ called, ofTimes }: Measure, rightOnly: boolean) =>
  `${called}${ofTimes && rightOnly && called.endsWith("time") ? " of right answers" : ""}`;

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
  const { axis, unit, times, digits, ofTimes, ...kind } = measures[measure];
  const isOfRight = ofTimes && rightOnly && kind.called.endsWith("time");
  return {
    value: column === null ? measure : `column:${column}`,
    says:
      column === null
        ? startCase(saysOf({ ...kind, axis, unit, times, digits, ofTimes }, rightOnly))
        : `Mean of ${column}`,
    axis: column ?? `${axis}${isOfRight ? " (right answers)" : ""}`,
    unit,
    drawn: (value) => value * times,
    written: (value, moreDigits = 0) => (value === null ? "" : (value * times).toFixed(digits + moreDigits)),
    isShare: times === 100,
  };
}
