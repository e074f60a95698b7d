import { useSearchParams } from "react-router";
import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import { startCase } from "~/core/describe/in-words";
import { alongNames, alongs, type Along } from "~/core/stats/along";
import { centres } from "~/core/stats/centre";
import { mostCurves } from "~/core/stats/distributions";
import type { CourseAnswer } from "~/server/results/course";
import { CurveChart, CurveLegend } from "../curve-chart";
import { Figure } from "../figure/figure";
import { measuresOf, type Measure } from "../measures";
import { NumberTable } from "../number-table";
import { TooMany } from "../too-many";
import type { ResultView } from "../result-views";

type Cell = CourseAnswer["cells"][number];
/** A cell's value, and half the width of its interval, as the figure shows them; null where there is none. */
const valueOf = (cell: Cell | undefined, measure: Measure): { y: number; half: number | null } | null => {
  const [y, half, unit] =
    measure === "rt" ? [cell?.meanRt, cell?.intervalRt, 1] : [cell?.accuracy, cell?.intervalAccuracy, 100];
  return y == null ? null : { y: y * unit, half: half == null ? null : half * unit };
};

/** How steps came about that do not explain themselves. */
const howMade: Partial<Record<Along, string>> = {
  before: " The answer before is that of the trial just before in the same block; a missing one is not right.",
  same: " Each trial is compared with the one just before it in the same block.",
};

export const View: ResultView<"course"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const [query] = useSearchParams();
  const measure: Measure = query.get("of") === "accuracy" ? "accuracy" : "rt";
  const { along, by, columns, centre } = question;
  const { steps, levels, cells, sessions, rightOnly } = answer;
  const measures = measuresOf(rightOnly);
  const chosen = measure === "rt" ? centre : "accuracy";
  const says = measures.find(([name]) => name === chosen)?.[1] ?? "";
  const yLabel = measure === "rt" ? "Reaction time, ms" : "Right answers, %";
  const digits = measure === "rt" ? 0 : 1;
  const cellAt = (step: string, level: string) =>
    valueOf(
      cells.find((cell) => cell.step === step && cell.level === level),
      measure,
    );
  const curves = levels.map((level) => ({
    ...{ level, persons: sessions, trials: 0 },
    points: steps.flatMap((step, x) => {
      const found = cellAt(step, level);
      return found ? [{ x, ...found }] : [];
    }),
  }));
  return (
    <>
      <Sentence>
        Show <SentenceChoice label="Measure" value={chosen} options={measures} onChange={(of) => ask({ of })} /> by{" "}
        <SentenceChoice
          label="Along"
          value={along}
          options={alongNames.map((name) => [name, alongs[name]] as const)}
          onChange={(wanted) => ask({ along: wanted })}
        />{" "}
        {along === "same" ? "in " : "and "}
        <SentenceChoice
          label="Column"
          value={by ?? ""}
          options={[
            ...(along === "same" ? [] : [["", "nothing else"] as const]),
            ...columns.map((name) => [name, name] as const),
          ]}
          onChange={(wanted) => ask({ by: wanted })}
        />
        .
      </Sentence>
      {sessions === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">No trials are in yet.</p>
      ) : levels.length > mostCurves ? (
        <TooMany column={by ?? ""} count={levels.length} />
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1.2fr)_minmax(0,0.8fr)] items-start gap-4 small:grid-cols-1">
          <Figure
            name="course"
            table={{
              header: [
                ...[alongs[along], by ?? "condition", `${centres[centre]} reaction time, ms`],
                ...["half of its 95 % interval", "share right", "half of its 95 % interval", "sessions", "trials"],
              ],
              rows: cells.map((cell) => [
                ...[cell.step, cell.level, cell.meanRt, cell.intervalRt],
                ...[cell.accuracy, cell.intervalAccuracy, cell.persons, cell.trials],
              ]),
            }}
            caption={
              <>
                <b>Figure 4.</b> {startCase(says)} by {alongs[along]}
                {by !== null && `${along === "same" ? " in" : " and"} ${by}`}{" "}
                <em>
                  (n = {sessions.toLocaleString("en")}; bars: 95 % intervals, within sessions where these have several
                  of the conditions)
                </em>
              </>
            }
          >
            <div className="h-[340px]">
              {inBrowser && <CurveChart curves={curves} along={{ label: alongs[along], steps }} yLabel={yLabel} />}
            </div>
            <CurveLegend curves={curves} />
          </Figure>
          <NumberTable
            title={
              <>
                <b>Table 4.</b> {yLabel}
              </>
            }
            head={alongs[along]}
            columns={levels.map((level) => level || "all")}
            rows={steps.map((step) => ({
              name: step,
              cells: levels.map((level) => {
                const found = cellAt(step, level);
                return { says: found?.y.toFixed(digits) ?? "", half: found?.half?.toFixed(digits) ?? null };
              }),
            }))}
          >
            Each session counts once.{howMade[along]}
          </NumberTable>
        </div>
      )}
    </>
  );
};
