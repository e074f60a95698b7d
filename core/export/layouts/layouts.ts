import type { WrittenColumn } from "../formats/format";
import type { DescribedTable } from "../codebook";

/** Layouts of a data set that communities have agreed on, and what they are called. */
export const layouts = {
  "psych-ds": "Psych-DS",
  bids: "BIDS",
} as const;
export type LayoutName = keyof typeof layouts;
export const layoutNames = Object.keys(layouts) as LayoutName[];

/** A name as these layouts have it in the names of files: letters and digits alone. */
export const label = (text: string): string => text.replace(/[^A-Za-z0-9]/g, "") || "x";

type Study = { title: string; code: string };

/** `data/study-CODE_desc-TABLE_data.csv`: the name of a table’s file in Psych-DS. */
export const psychDsFile = (code: string, table: string): string =>
  `data/study-${label(code)}_desc-${label(table)}_data.csv`;

/** `dataset_description.json` of Psych-DS, in the terms of schema.org: what the data set is, and every variable in it. */
export function psychDsDescription({ title, code }: Study, tables: readonly DescribedTable[]): object {
  const variables = new Map<string, WrittenColumn>();
  for (const { columns } of tables) for (const column of columns) variables.set(column.name, column);
  return {
    "@context": "https://schema.org/",
    "@type": "Dataset",
    name: title,
    description: `Trials, answers, events and sessions of the study ${code}, recorded by Lapwing. Each file in data/ is one table; documentation/codebook.md describes them.`,
    schemaVersion: "Psych-DS 0.4.0",
    variableMeasured: [...variables.values()].map(({ name, meaning, unit, values }) => ({
      "@type": "PropertyValue",
      name,
      description: meaning,
      ...(unit === "" ? {} : { unitText: unit }),
      ...(values === "" || values.includes("…") ? {} : { levels: values.split(", ") }),
    })),
  };
}

/** Whose file it is in BIDS; `sitting` is null where nobody has several, `repeat` counts from 0. */
export type BidsPlace = { participant: number; session: string; sitting: number | null; repeat: number };

const subjectOf = ({ participant, session }: BidsPlace): string =>
  `sub-${participant > 0 ? String(participant).padStart(3, "0") : label(session)}`;

/** `sub-001/ses-1/beh/sub-001_ses-1_task-CODE_run-2_beh.tsv` and the like: a session’s file in BIDS. */
export function bidsFile(code: string, place: BidsPlace, suffix: "beh" | "events"): string {
  const subject = subjectOf(place);
  const sitting = place.sitting === null ? null : `ses-${place.sitting}`;
  const run = place.repeat === 0 ? null : `run-${place.repeat + 1}`;
  const name = [subject, sitting, `task-${label(code)}`, run, suffix].filter((part) => part !== null).join("_");
  return [subject, sitting, "beh", `${name}.tsv`].filter((part) => part !== null).join("/");
}
export const bidsSubject = subjectOf;

/** `dataset_description.json` of BIDS. */
export const bidsDescription = ({ title }: Study): object => ({
  Name: title,
  BIDSVersion: "1.9.0",
  DatasetType: "raw",
  GeneratedBy: [{ Name: "Lapwing" }],
});

/** What a file’s columns are, as the JSON beside files of BIDS tells it. */
export const bidsColumns = (columns: readonly WrittenColumn[]): object =>
  Object.fromEntries(
    columns.map(({ name, meaning, unit, values }) => [
      name,
      {
        Description: meaning,
        ...(unit === "" ? {} : { Units: unitInBids(unit) }),
        ...(values === "" || values.includes("…")
          ? {}
          : { Levels: Object.fromEntries(values.split(", ").map((value) => [value, value])) }),
      },
    ]),
  );
const units: Record<string, string> = { milliseconds: "ms", seconds: "s", hertz: "Hz", pixels: "px" };
const unitInBids = (unit: string): string => units[unit] ?? unit;

/** The columns with which files of events begin in BIDS. */
export const onsetColumns: readonly WrittenColumn[] = [
  { name: "onset", meaning: "When it happened, from the session’s start", unit: "seconds", type: "number", values: "" },
  {
    name: "duration",
    meaning: "Not told: each end is an event of its own",
    unit: "seconds",
    type: "number",
    values: "",
  },
];
