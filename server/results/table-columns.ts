import { tidyTables, type TidyTableName } from "../../core/export/tidy-tables";
import { sizeOf } from "../../core/persons/norm";
import type { NormStanding } from "../../core/persons/standing";
import { trialScoreInWords, unitOf } from "../../core/persons/trial-score";
import { dataColumn, type DataColumn } from "../../core/values/data-column";
import type { DataReader } from "../export/reader";
import type { KeptNorm } from "../persons";

/** What is told of a score's standing in its norm sample, in columns named after it. */
export const standings = {
  percentile: { says: "Percentile rank", unit: "per cent" },
  z: { says: "z", unit: "" },
  t: { says: "T (50 + 10 z)", unit: "" },
  stanine: { says: "Stanine", unit: "" },
  from: { says: "Lower end of the 95 % interval", unit: "" },
  to: { says: "Upper end of the 95 % interval", unit: "" },
} as const satisfies Partial<Record<keyof NormStanding, { says: string; unit: string }>>;
export const standingNames = Object.keys(standings) as (keyof typeof standings)[];

/** The norm samples that scores are read against, one of each score at most; those of scores that are gone tell nothing. */
export function normsInUse({ documents, persons }: Pick<DataReader, "documents" | "persons">): KeptNorm[] {
  const names = new Set([
    ...persons.scores.map(({ name }) => name),
    ...tidyTables.sessions.columns(documents).map(({ name }) => name),
  ]);
  return persons.norms.filter(({ isUsed, norm }) => isUsed && names.has(norm.score));
}

/** The columns of sessions that are computed: scores over trials, and how scores stand in their norms. */
function derivedColumns(reader: Pick<DataReader, "documents" | "persons">): DataColumn<never>[] {
  const nothing = () => null;
  return [
    ...reader.persons.scores.map(({ name, score }) =>
      dataColumn<never>(
        name,
        "number",
        `Score over trials: ${trialScoreInWords(score)}, without what is left out`,
        nothing,
        {
          unit: unitOf(score.measure) === "ms" ? "milliseconds" : "",
        },
      ),
    ),
    ...normsInUse(reader).flatMap(({ norm }) => {
      const size = sizeOf(norm);
      const of = `of ${norm.score} in the norm sample “${norm.name}”${size === null ? "" : ` (n = ${size})`}`;
      return [
        ...standingNames.map((name) =>
          dataColumn<never>(
            `${norm.score}_${name}`,
            name === "stanine" ? "whole number" : "number",
            `${standings[name].says} ${of}`,
            nothing,
            { unit: standings[name].unit },
          ),
        ),
        dataColumn<never>(
          `${norm.score}_norm`,
          "text",
          `The band in which ${norm.score} was read, or why it was not`,
          nothing,
        ),
      ];
    }),
  ];
}

/** The columns of a table as results and exports have them: those of the documents, and what is computed of sessions. */
export function tableColumns(
  table: TidyTableName,
  reader: Pick<DataReader, "documents" | "persons">,
): readonly DataColumn<never>[] {
  const own: readonly DataColumn<never>[] = tidyTables[table].columns(reader.documents);
  if (table !== "sessions") return own;
  const names = new Set(own.map(({ name }) => name));
  // What a later release asks for comes first.
  return [...own, ...derivedColumns(reader).filter(({ name }) => !names.has(name) && names.add(name))];
}
