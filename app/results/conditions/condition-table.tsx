import { measures } from "~/core/stats/measures";
import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { howMeasured, shownMeasure } from "../measures";
import { ResultRow, ResultTable } from "../result-table";

/** What stands over a column of numbers. */
const short = (measure: ConditionQuestion["measure"], column: string | null) => {
  if (column !== null) return column;
  if (measure === "accuracy") return "right";
  return measures[measure].unit === "ms" ? "ms" : measures[measure].axis;
};

/** The conditions in numbers, with accuracy beside times and times beside accuracy. */
export function ConditionTable({ question, answer }: { question: ConditionQuestion; answer: ConditionAnswer }) {
  const { by, measure, column } = question;
  const { cells, beside } = answer;
  const main = shownMeasure(question, answer.rightOnly);
  const other = beside && shownMeasure({ ...question, measure: beside, column: null }, answer.rightOnly);
  const half = { says: <span title="half the width of the 95 % interval">±</span>, isNumber: true };
  const number = (says: string) => ({ says: <span className="font-mono">{says}</span>, isNumber: true });
  const percent = (share: boolean, text: string) => (share && text !== "" ? `${text} %` : text);
  return (
    <ResultTable
      name="conditions"
      title={
        <>
          <b>Table 2.</b> Means by condition
        </>
      }
      head={[
        ...by.map((name) => ({ says: name })),
        ...[number(short(measure, column)), half, number("SD")],
        ...(beside ? [number(short(beside, null)), half] : []),
        ...[number("n"), number("trials")],
      ]}
      note={
        <>
          {howMeasured(question, answer.rightOnly)}
          {measures[measure].isTime && " A missing or late answer counts as not right."}
        </>
      }
    >
      {cells.map((cell, row) => (
        <ResultRow
          key={cell.cell}
          numbersFrom={by.length}
          cells={[
            // A level is named where it begins.
            ...cell.levels.map((level, at) =>
              at < by.length - 1 &&
              cell.levels.slice(0, at + 1).every((each, index) => cells[row - 1]?.levels[index] === each)
                ? ""
                : level || "(empty)",
            ),
            ...[percent(main.isShare, main.written(cell.mean)), main.written(cell.interval, main.isShare ? 0 : 1)],
            main.written(cell.sd),
            ...(other && cell.beside
              ? [
                  percent(other.isShare, other.written(cell.beside.mean)),
                  other.written(cell.beside.interval, other.isShare ? 0 : 1),
                ]
              : []),
            ...[String(cell.persons), cell.trials.toLocaleString("en")],
          ]}
        />
      ))}
    </ResultTable>
  );
}
