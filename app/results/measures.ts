import { centreNames, centres } from "~/core/stats/centre";

/** Whether times or the share of right answers are shown. */
export type Measure = "rt" | "accuracy";

/** The measures that a figure can show, as the address has them and in words. */
export const measuresOf = (rightOnly: boolean): readonly (readonly [string, string])[] => [
  ...centreNames.map(
    (name) => [name, `${centres[name]} reaction time${rightOnly ? " of right answers" : ""}`] as const,
  ),
  ["accuracy", "share of right answers"],
];
