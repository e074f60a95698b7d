import { useSearchParams } from "react-router";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import { startCase } from "~/core/describe/in-words";
import { centres, trimmedShare } from "~/core/stats/centre";
import type { ConditionAnswer, ConditionQuestion } from "~/server/results/conditions";
import { ConditionChart, Legend } from "../condition-chart";
import { Figure, type FigureTable } from "../figure/figure";
import { measuresOf, type Measure } from "../measures";
import type { ResultView } from "../result-views";

/** Which intervals the bars are: within participants, as far as they have several of the conditions. */
const intervalsInWords = ({ within, between }: ConditionAnswer): string =>
  within.length === 0
    ? "95 % intervals of the means"
    : `95 % intervals within participants${between.length > 0 ? `, for each ${between.join(" and ")} by itself` : ""}`;

const half = (value: number | null, digits: number) => (value === null ? "" : value.toFixed(digits));

/** The cells as numbers, with every digit. */
const tableOf = ({ first, second, centre }: ConditionQuestion, { cells }: ConditionAnswer): FigureTable => ({
  header: [
    ...(second === null ? [first] : [first, second]),
    ...[`${centres[centre]} reaction time, ms`, "half of its 95 % interval", "SD", "share right"],
    ...["half of its 95 % interval", "sessions", "trials"],
  ],
  rows: cells.map((cell) => [
    ...(second === null ? [cell.first] : [cell.first, cell.second]),
    ...[cell.meanRt, cell.intervalRt, cell.sdRt, cell.accuracy, cell.intervalAccuracy, cell.persons, cell.trials],
  ]),
});

export const View: ResultView<"conditions"> = ({ question, answer, ask }) => {
  const [query] = useSearchParams();
  const inBrowser = useInBrowser();
  const measure: Measure = query.get("of") === "accuracy" ? "accuracy" : "rt";
  const columns = question.columns.map((name) => [name, name] as const);
  const persons = answer.sessions;
  return (
    <>
      <Sentence>
        Show{" "}
        <SentenceChoice
          label="Measure"
          value={measure === "rt" ? question.centre : "accuracy"}
          options={measuresOf(answer.rightOnly)}
          onChange={(of) => ask({ of })}
        />{" "}
        by{" "}
        <SentenceChoice
          label="First column"
          value={question.first}
          options={columns}
          onChange={(by) => ask({ by, and: question.second === by ? "" : (question.second ?? "") })}
        />{" "}
        and{" "}
        <SentenceChoice
          label="Second column"
          value={question.second ?? ""}
          options={[["", "nothing else"], ...columns.filter(([name]) => name !== question.first)]}
          onChange={(and) => ask({ and })}
        />
        .
      </Sentence>
      {answer.trials === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          No trials are in yet. Release the study under Collect and give its link to participants; what they do shows
          here at once.
        </p>
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1fr)_minmax(0,0.95fr)] gap-4 small:grid-cols-1">
          <Figure
            name="conditions"
            table={tableOf(question, answer)}
            caption={
              <>
                <b>Figure 2.</b>{" "}
                {measure === "rt" ? `${startCase(centres[question.centre])} reaction time` : "Right answers"} by{" "}
                {question.first}
                {question.second && ` and ${question.second}`}{" "}
                <em>
                  (n = {persons.toLocaleString("en")}; bars: {intervalsInWords(answer)}
                  {answer.pointOfEach > 1 && `; points: one of ${answer.pointOfEach} sessions`})
                </em>
              </>
            }
          >
            <div className="h-[310px]">
              {inBrowser && <ConditionChart answer={answer} measure={measure} centre={question.centre} />}
            </div>
            <Legend levels={answer.secondLevels} />
          </Figure>
          <section
            aria-label="Means by condition"
            tabIndex={0}
            className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
          >
            <h2 className="caption">
              <b>Table 2.</b> Means by condition
            </h2>
            <table className="mt-2 w-full text-left text-sm" data-condition-table>
              <thead>
                <tr className="h-8 border-b border-ink text-xs text-muted">
                  <th scope="col" className="font-semibold">
                    {question.first}
                  </th>
                  {question.second && (
                    <th scope="col" className="font-semibold">
                      {question.second}
                    </th>
                  )}
                  {["ms", "±", "SD", "right", "±", "n", "trials"].map((head, index) => (
                    <th
                      key={index}
                      scope="col"
                      title={head === "±" ? "half the width of the 95 % interval" : undefined}
                      className="pl-3 text-right font-mono"
                    >
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {answer.cells.map((cell, index) => (
                  <tr key={cell.cell} className="h-[34px] border-b border-hairline last:border-b-0">
                    <td>
                      {answer.cells[index - 1]?.first === cell.first && question.second ? "" : cell.first || "(empty)"}
                    </td>
                    {question.second && <td>{cell.second || "(empty)"}</td>}
                    <td className="pl-3 text-right font-mono text-xs">
                      {cell.meanRt === null ? "" : Math.round(cell.meanRt)}
                    </td>
                    <td className="pl-3 text-right font-mono text-xs">{half(cell.intervalRt, 1)}</td>
                    <td className="pl-3 text-right font-mono text-xs">
                      {cell.sdRt === null ? "" : Math.round(cell.sdRt)}
                    </td>
                    <td className="pl-3 text-right font-mono text-xs">
                      {cell.accuracy === null ? "" : `${(cell.accuracy * 100).toFixed(1)} %`}
                    </td>
                    <td className="pl-3 text-right font-mono text-xs">
                      {half(cell.intervalAccuracy === null ? null : cell.intervalAccuracy * 100, 1)}
                    </td>
                    <td className="pl-3 text-right font-mono text-xs">{cell.persons}</td>
                    <td className="pl-3 text-right font-mono text-xs">{cell.trials.toLocaleString("en")}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="mt-3 text-sm text-muted">
              Each session counts once: means of the sessions’ {centres[question.centre]}s
              {question.centre === "trimmed" &&
                ` (of each session’s times the fastest and the slowest ${trimmedShare * 100} % are left out)`}
              . A missing or late answer counts as not right.
              {answer.rightOnly && " Times are of right answers only."}
            </p>
          </section>
        </div>
      )}
    </>
  );
};
