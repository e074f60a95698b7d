import { Sentence, SentenceChoice, SentenceText } from "~/app/components/sentence";
import { formatNames, type FormatName } from "~/core/export/formats/registry";
import { isPlainText } from "~/core/export/recipes/in-words";
import { RowConditions } from "../row-conditions";
import {
  isOfPersons,
  mostBy,
  rowColumns,
  rowKindNames,
  rowKinds,
  whichSessions,
  type Recipe,
} from "~/core/export/recipes/recipe";
import { freeColumn, withRows } from "~/core/export/recipes/templates";
import type { ExportAnswer } from "~/server/results/export";

const formats: Record<FormatName, string> = {
  csv: "CSV",
  spreadsheet: "CSV for a spreadsheet program",
  tsv: "text separated by tabs",
  json: "JSON",
  jsonl: "JSON, a line a row",
  parquet: "Parquet",
  xlsx: "an Excel workbook",
  sav: "a statistics program’s system file (.sav)",
};

/** What programs take for a missing value. */
const missings = ["", "NA", ".", "-99", "-999"];
const missingInWords = (missing: string) => (missing === "" ? "left empty" : `written “${missing}”`);

/** The columns that rows can be chosen by. */
export const conditionColumnsOf = ({ rows }: Recipe, { columns }: ExportAnswer["available"]): string[] =>
  (isOfPersons(rows) ? columns.session : rowColumns(columns, rows)).map(({ name }) => name);

type Props = { recipe: Recipe; available: ExportAnswer["available"]; set: (recipe: Recipe) => void };

/** The recipe as a sentence, whose underlined words are its choices. */
export function RecipeSentence({ recipe, available, set }: Props) {
  const change = (changed: Partial<Recipe>) => set({ ...recipe, ...changed });
  const { rows, by, wave, where, containing } = recipe;
  const conditionColumns = conditionColumnsOf(recipe, available);
  const isTrials = rows === "trial" || isOfPersons(rows);
  /** Conditions are told apart by another column, which the file has then. */
  const setBy = (at: number, name: string) => {
    const next = by.filter((each, index) => index !== at && each !== name);
    if (name !== "") next.splice(at, 0, name);
    const isGone = (column: Recipe["columns"][number]) =>
      column.is === "column" && column.of === "row" && !next.includes(column.column);
    const columns = recipe.columns.filter((column) => !isGone(column));
    const added = next.filter(
      (each) => !columns.some((column) => column.is === "column" && column.of === "row" && column.column === each),
    );
    change({
      by: next,
      columns: [
        ...columns,
        ...added.map((each) => ({
          is: "column" as const,
          of: "row" as const,
          column: each,
          name: freeColumn(each, columns),
        })),
      ],
    });
  };
  return (
    <Sentence>
      One row for each{" "}
      <SentenceChoice
        label="Rows"
        value={rows}
        options={rowKindNames.map((each) => [each, rowKinds[each]] as const)}
        onChange={(next) => set(withRows(recipe, next, available))}
      />
      {rows === "person-condition" &&
        [...by, ""].slice(0, mostBy).map((name, at) => (
          <span key={at}>
            {at === 0 ? " of " : " and "}
            <SentenceChoice
              label={`Condition ${at + 1}`}
              value={name}
              options={[
                ["", at === 0 ? "no column" : "nothing else"],
                ...available.levels
                  .filter(({ column }) => column === name || !by.includes(column))
                  .map(({ column }) => [column, column] as const),
              ]}
              onChange={(next) => setBy(at, next)}
            />
          </span>
        ))}
      , of the{" "}
      <SentenceChoice
        label="Sessions"
        value={recipe.sessions}
        options={Object.entries(whichSessions) as [Recipe["sessions"], string][]}
        onChange={(sessions) => change({ sessions })}
      />
      {(available.waves.length > 1 || wave !== null) && (
        <>
          {" of "}
          <SentenceChoice
            label="Wave"
            value={wave ?? ""}
            options={[["", "all waves"], ...available.waves.map((name) => [name, name] as const)]}
            onChange={(next) => change({ wave: next === "" ? null : next })}
          />
        </>
      )}
      {(available.exclusions.length > 1 || recipe.exclusions !== undefined) && recipe.sessions === "kept" && (
        <>
          {" by "}
          <SentenceChoice
            label="Exclusions"
            value={recipe.exclusions ?? ""}
            options={[
              ["", "the exclusions in use"],
              ...available.exclusions.map((name) => [name, `the exclusions “${name}”`] as const),
            ]}
            onChange={(next) => change({ exclusions: next === "" ? undefined : next })}
          />
        </>
      )}
      {isTrials && (
        <>
          {", "}
          <SentenceChoice
            label="Trials"
            value={recipe.trials}
            options={[
              ["kept", "without trials left out"],
              ["all", "with all trials"],
            ]}
            onChange={(trials) => change({ trials })}
          />
        </>
      )}
      <RowConditions conditions={where} columns={conditionColumns} set={(next) => change({ where: next })} />
      {containing !== "" && (
        <>
          {", containing "}
          <SentenceText
            label="Text to find"
            value={containing}
            problem={() => null}
            onChange={(next) => change({ containing: next })}
          />
        </>
      )}
      , as{" "}
      <SentenceChoice
        label="Format"
        value={recipe.format}
        options={formatNames.map((each) => [each, formats[each]] as const)}
        onChange={(format) => change({ format })}
      />
      {isPlainText(recipe) && (
        <>
          {" with a "}
          <SentenceChoice
            label="Decimal sign"
            value={recipe.decimal}
            options={[
              [".", "decimal point"],
              [",", "decimal comma"],
            ]}
            onChange={(decimal) => change({ decimal })}
          />
          {" and missing values "}
          <SentenceChoice
            label="Missing values"
            value={recipe.missing}
            options={[...new Set([...missings, recipe.missing])].map((each) => [each, missingInWords(each)] as const)}
            onChange={(missing) => change({ missing })}
          />
        </>
      )}
      .
    </Sentence>
  );
}
