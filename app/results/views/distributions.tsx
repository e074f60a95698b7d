import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import {
  fewestTimes,
  mostCurves,
  parameterNames,
  shapeNames,
  shapes,
  speedBins,
  type Curve,
  type Shape,
} from "~/core/stats/distributions";
import type { DistributionAnswer, DistributionQuestion } from "~/server/results/distributions";
import { fittedFrom } from "~/core/stats/ex-gaussian";
import { CurveChart, CurveLegend } from "../curve-chart";
import { Figure, type FigureTable } from "../figure/figure";
import { NumberTable } from "../number-table";
import { TooMany } from "../too-many";
import type { ResultView } from "../result-views";

/** How a shape is drawn and told: its axes, how its numbers are written, and its caption. */
type Told = { x: string; y: string; draw: "points" | "dots" | "line" | "steps"; digits: number; caption: string };
const told: Record<Shape, Told> = {
  quantiles: {
    ...{ x: "share of each session’s times", y: "Reaction time, ms", draw: "points", digits: 0 },
    caption: "Quantiles of reaction times, averaged over sessions",
  },
  density: {
    ...{ x: "reaction time, ms", y: "Density, % a millisecond", draw: "line", digits: 4 },
    caption: "Density of reaction times",
  },
  histogram: {
    ...{ x: "reaction time, ms", y: "Share of times, %", draw: "steps", digits: 1 },
    caption: "Reaction times",
  },
  cumulative: {
    ...{ x: "reaction time, ms", y: "Share of times up to then, %", draw: "line", digits: 1 },
    caption: "Cumulative shares of reaction times, averaged over sessions",
  },
  delta: {
    ...{ x: "mean of both, ms", y: "Difference, ms", draw: "points", digits: 0 },
    caption: "Differences of reaction times by quantile",
  },
  accuracy: {
    ...{ x: "mean reaction time of the fifth, ms", y: "Right answers, %", draw: "points", digits: 1 },
    caption: "Accuracy by speed",
  },
  "ex-gaussian": {
    ...{ x: "parameter", y: "Milliseconds", draw: "dots", digits: 1 },
    caption: "Ex-Gaussian parameters of reaction times, averaged over sessions",
  },
};
const nothing = "nothing: all trials together";

/** How the curves were made. */
function howMade({ shape, fewest }: DistributionQuestion, { width, rightOnly }: DistributionAnswer): string {
  const right = shape !== "accuracy" && rightOnly ? " Times are of right answers only." : "";
  const few = `Sessions with fewer than ${fewestTimes} times in one of their conditions are not in it.`;
  switch (shape) {
    case "quantiles":
      return `Deciles of each session’s times (type 7), averaged over sessions. Bars: 95 % intervals, within sessions where these have all conditions. ${few}${right}`;
    case "delta":
      return `Each session’s deciles (type 7) in both conditions: their difference over their mean, averaged over sessions. Bars: 95 % intervals of the mean difference. ${few}${right}`;
    case "accuracy":
      return `Each session’s answered trials in ${speedBins} parts of equal size by their times. Bars: 95 % intervals, within sessions where these have all conditions. Sessions with fewer than ${2 * speedBins} answered trials in one of their conditions are not in it.`;
    case "ex-gaussian":
      return `The parameters under which each session’s times in a condition are most likely: mean μ and standard deviation σ of the normal part, mean τ of the exponential one. Bars: 95 % intervals, within sessions where these have all conditions. Sessions with fewer than ${fewest} times in one of their conditions are not in it.${right}`;
    case "density":
      return `All times of a condition together, smoothed by a normal kernel (Silverman, 1986). The slowest 0.5 % are beyond the axis.${right}`;
    case "histogram":
      return `All times of a condition together, in bins of ${width ?? 0} ms (Freedman & Diaconis, 1981). The slowest 0.5 % are beyond the axis.${right}`;
    case "cumulative":
      return `Shares of each session’s times, averaged over sessions.${right}`;
  }
}

/** Conditions at the same place, a little apart. */
const besideEachOther = (curves: readonly Curve[]): Curve[] =>
  curves.map((curve, at) => ({
    ...curve,
    points: curve.points.map((point) => ({
      ...point,
      x: point.x + (at - (curves.length - 1) / 2) * Math.min(0.12, 0.6 / curves.length),
    })),
  }));

/** What a row of the table is called. */
function nameOf(shape: Shape, at: number): string {
  if (shape === "ex-gaussian") return parameterNames[at] ?? "";
  return shape === "accuracy" ? String(at + 1) : ((at + 1) / 10).toFixed(1);
}

/** The curves as numbers: a row a point. */
const tableOf = (curves: readonly Curve[], shape: Shape): FigureTable => ({
  header: ["condition", told[shape].x, told[shape].y, "half of the 95 % interval", "sessions"],
  rows: curves.flatMap(({ level, points, persons }) =>
    points.map((point) => [
      ...[level, shape === "ex-gaussian" ? (parameterNames[point.x] ?? "") : point.x, point.y, point.half, persons],
    ]),
  ),
});

export const View: ResultView<"distributions"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const { shape, by, columns, fewest } = question;
  const { curves, levels, pair, sessions } = answer;
  const { x, y, draw, digits, caption } = told[shape];
  const counts = curves.map((curve) => curve.persons);
  const persons = answer.isWithin ? Math.max(0, ...counts) : counts.reduce((sum, count) => sum + count, 0);
  const names = levels.map((level) => [level, level || "(empty)"] as const);
  return (
    <>
      <Sentence>
        Show the{" "}
        <SentenceChoice
          label="Shape"
          value={shape}
          options={shapeNames.map((name) => [name, shapes[name]] as const)}
          onChange={(chosen) => ask({ shape: chosen })}
        />{" "}
        {shape === "accuracy" ? "" : "of times "}
        by{" "}
        <SentenceChoice
          label="Column"
          value={by ?? ""}
          options={[["", nothing] as const, ...columns.map((name) => [name, name] as const)]}
          onChange={(chosen) => ask({ by: chosen, from: "", to: "" })}
        />
        {pair && (
          <>
            :{" "}
            <SentenceChoice
              label="Condition"
              value={pair[1]}
              options={names.filter(([level]) => level !== pair[0])}
              onChange={(to) => ask({ from: pair[0], to })}
            />{" "}
            minus{" "}
            <SentenceChoice
              label="Condition to compare with"
              value={pair[0]}
              options={names}
              onChange={(from) => ask({ from, to: from === pair[1] ? pair[0] : pair[1] })}
            />
          </>
        )}
        {shape === "ex-gaussian" && (
          <>
            , of sessions with{" "}
            <SentenceChoice
              label="Fewest times"
              value={String(fewest)}
              options={fittedFrom.map((count) => [String(count), String(count)] as const)}
              onChange={(chosen) => ask({ fewest: chosen })}
            />{" "}
            times or more in each condition
          </>
        )}
        .
      </Sentence>
      {sessions === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">No times are in yet.</p>
      ) : shape !== "delta" && levels.length > mostCurves ? (
        <TooMany column={by ?? ""} count={levels.length} />
      ) : answer.tooManyFits !== null ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          {answer.tooManyFits.toLocaleString("en")} sets of times would have to be fitted, one for each session in each
          condition: too many to wait for. Choose one wave, or a column with fewer levels.
        </p>
      ) : shape === "ex-gaussian" && persons === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          No session has {fewest} times in each of its conditions. Fewer can be asked for, or a column with fewer
          levels; fits to few times vary much.
        </p>
      ) : shape === "delta" && !pair ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">
          A delta plot compares two conditions: choose a column that tells some apart.
        </p>
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1.2fr)_minmax(0,0.8fr)] items-start gap-4 small:grid-cols-1">
          <Figure
            name={shape}
            table={tableOf(curves, shape)}
            caption={
              <>
                <b>Figure 3.</b> {caption}
                {by !== null && (pair ? `: ${pair[1]} minus ${pair[0]} (${by})` : ` by ${by}`)}{" "}
                <em>(n = {persons.toLocaleString("en")})</em>
              </>
            }
          >
            <div className="h-[340px]">
              {inBrowser && (
                <CurveChart
                  curves={shape === "ex-gaussian" ? besideEachOther(curves) : curves}
                  along={
                    shape === "ex-gaussian"
                      ? { label: x, steps: parameterNames }
                      : { label: x, domain: shape === "quantiles" ? [0, 1] : "data" }
                  }
                  yLabel={y}
                  shape={draw}
                  zero={shape === "delta"}
                />
              )}
            </div>
            <CurveLegend curves={curves} />
          </Figure>
          {draw === "points" || draw === "dots" ? (
            <NumberTable
              title={
                <>
                  <b>Table 3.</b> {y}
                </>
              }
              head={shape === "accuracy" ? "fifth" : shape === "ex-gaussian" ? "parameter" : "share"}
              columns={curves.map(({ level }) => level || "all")}
              rows={(curves[0]?.points ?? []).map((_, at) => ({
                name: nameOf(shape, at),
                cells: curves.map(({ points }) => ({
                  says: points[at]?.y.toFixed(digits) ?? "",
                  half: points[at]?.half?.toFixed(digits) ?? null,
                })),
              }))}
            >
              {howMade(question, answer)}
            </NumberTable>
          ) : (
            // Smooth curves have too many points to be read as numbers; the file has them.
            <NumberTable
              title={
                <>
                  <b>Table 3.</b> What it is made of
                </>
              }
              head={by ?? ""}
              columns={["sessions", "times"]}
              rows={curves.map((curve) => ({
                name: curve.level || "all",
                cells: [curve.persons, curve.trials].map((count) => ({ says: count.toLocaleString("en") })),
              }))}
            >
              {howMade(question, answer)}
            </NumberTable>
          )}
        </div>
      )}
    </>
  );
};
