import { dataColumn, type DataColumn } from "../values/data-column";

/** The columns that tell what is left out, and by which rule: they are filled in from the rules as these are when data are looked at. */
export const leftOutNames = { is: "left_out", by: "left_out_by" } as const;

const because: DataColumn<unknown> = dataColumn(
  leftOutNames.by,
  "text",
  "The rule by which it is left out, the first that does; where the time went before the trial, both, separated by “; ”; empty where it is in",
  () => null,
);
export const leftOutOfTrials: readonly DataColumn<unknown>[] = [
  dataColumn(
    leftOutNames.is,
    "text",
    "Whether the exclusions in use leave the trial out, or only its time; the row stays whatever they say",
    () => null,
    { values: "no, times, yes" },
  ),
  because,
];
export const leftOutOfSessions: readonly DataColumn<unknown>[] = [
  dataColumn(
    leftOutNames.is,
    "yes/no",
    "Whether the exclusions in use leave the session out; the row stays whatever they say",
    () => null,
    { values: "yes, no" },
  ),
  because,
];
