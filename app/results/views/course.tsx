import { useSearchParams } from "react-router";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import { centreNames, centres } from "~/core/stats/centre";
import type { Curve } from "~/core/stats/distributions";
import { alongNames, alongs } from "~/core/stats/along";
import type { CourseAnswer } from "~/server/results/course";
import { CourseChart } from "../course-chart";
import { CurveLegend } from "../distribution-chart";
import { Figure } from "../figure/figure";
import type { ResultView } from "../result-views";

type Measure = "rt" | "accuracy";

/** A line a condition, over the steps. */
const curvesOf = ({ levels, steps, cells }: CourseAnswer, measure: Measure): Curve[] =>
  levels.map((level) => {
    const own = cells.filter((cell) => cell.level === level);
    return {
      level,
      persons: Math.max(0, ...own.map(({ persons }) => persons)),
      trials: own.reduce((sum, { trials }) => sum + trials, 0),
      points: own.flatMap((cell) => {
        const [y, half] =
          measure === "rt"
            ? [cell.meanRt, cell.intervalRt]
            : [
                cell.accuracy === null ? null : 100 * cell.accuracy,
                cell.intervalAccuracy === null ? null : 100 * cell.intervalAccuracy,
              ];
        return y === null ? [] : [{ x: steps.indexOf(cell.step), y, half }];
      }),
    };
  });

export const View: ResultView<"course"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const [query] = useSearchParams();
  const measure: Measure = query.get("of") === "accuracy" ? "accuracy" : "rt";
  const { along, by, columns, centre } = question;
  const { steps, levels, cells, sessions, rightOnly } = answer;
  const times = `${centres[centre]} reaction time${rightOnly ? " of right answers" : ""}`;
  const says = measure === "rt" ? times : "share of right answers";
  const curves = curvesOf(answer, measure);
  const cellAt = (step: string, level: string) => cells.find((cell) => cell.step === step && cell.level === level);
  return (
    <>
      <Sentence>
        Show{" "}
        <SentenceChoice
          label="Measure"
          value={measure === "rt" ? centre : "accuracy"}
          options={[
            ...centreNames.map(
              (name) =>
                [name as string, `${centres[name]} reaction time${rightOnly ? " of right answers" : ""}`] as const,
            ),
            ["accuracy", "share of right answers"] as const,
          ]}
          onChange={(of) => ask({ of })}
        />{" "}
        by{" "}
        <SentenceChoice
          label="Along"
          value={along}
          options={alongNames.map((name) => [name, alongs[name]] as const)}
          onChange={(chosen) => ask({ along: chosen })}
        />{" "}
        {along === "same" ? "in " : "and "}
        <SentenceChoice
          label="Column"
          value={by ?? ""}
          options={[
            ...(along === "same" ? [] : [["", "nothing else"] as const]),
            ...columns.map((name) => [name, name] as const),
          ]}
          onChange={(chosen) => ask({ by: chosen })}
        />
        .
      </Sentence>
      {sessions === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">No trials are in yet.</p>
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1.2fr)_minmax(0,0.8fr)] items-start gap-4 small:grid-cols-1">
          <Figure
            name="course"
            table={{
              header: [
                alongs[along],
                by ?? "condition",
                `${times}, ms`,
                "half of its 95 % interval",
                "share right",
                "half of its 95 % interval",
                "sessions",
                "trials",
              ],
              rows: cells.map((cell) => [
                cell.step,
                cell.level,
                cell.meanRt,
                cell.intervalRt,
                cell.accuracy,
                cell.intervalAccuracy,
                cell.persons,
                cell.trials,
              ]),
            }}
            caption={
              <>
                <b>Figure 4.</b> {says.charAt(0).toUpperCase() + says.slice(1)} by {alongs[along]}
                {by !== null && `${along === "same" ? " in" : " and"} ${by}`}{" "}
                <em>(n = {sessions.toLocaleString("en")}; bars: 95 % intervals within participants)</em>
              </>
            }
          >
            <div className="h-[340px]">
              {inBrowser && (
                <CourseChart
                  curves={curves}
                  steps={steps}
                  xLabel={alongs[along]}
                  yLabel={measure === "rt" ? "reaction time, ms" : "right answers, %"}
                />
              )}
            </div>
            <CurveLegend curves={curves} />
          </Figure>
          <section
            aria-label="The figure in numbers"
            tabIndex={0}
            className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
          >
            <h2 className="caption">
              <b>Table 4.</b> {measure === "rt" ? "Reaction time, ms" : "Right answers, %"}
            </h2>
            <table className="mt-2 w-full text-left text-sm" data-course-table>
              <thead>
                <tr className="h-8 border-b border-ink text-xs text-muted">
                  <th scope="col" className="font-semibold">
                    {alongs[along]}
                  </th>
                  {levels.map((level) => (
                    <th key={level} scope="col" className="pl-3 text-right">
                      {level || "all"}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {steps.map((step) => (
                  <tr key={step} className="h-[28px] border-b border-hairline last:border-b-0">
                    <td className="font-mono text-xs">{step}</td>
                    {levels.map((level) => {
                      const cell = cellAt(step, level);
                      const [value, half] =
                        measure === "rt"
                          ? [cell?.meanRt ?? null, cell?.intervalRt ?? null]
                          : [cell?.accuracy ?? null, cell?.intervalAccuracy ?? null].map((part) =>
                              part === null ? null : 100 * part,
                            );
                      return (
                        <td key={level} className="pl-3 text-right font-mono text-xs">
                          {value == null ? "" : value.toFixed(measure === "rt" ? 0 : 1)}
                          {half != null && (
                            <span className="text-muted"> ± {half.toFixed(measure === "rt" ? 0 : 1)}</span>
                          )}
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="mt-3 text-sm text-muted">
              Each session counts once.
              {along === "before" &&
                " The answer before is that of the trial just before in the same block; a missing one is not right."}
              {along === "same" && " Compared with the trial just before in the same block."}
            </p>
          </section>
        </div>
      )}
    </>
  );
};
