import { Sentence, SentenceChoice } from "~/app/components/sentence";
import { useInBrowser } from "~/app/components/use-in-browser";
import { fewestTimes, shapeNames, shapes, speedBins, type Curve, type Shape } from "~/core/stats/distributions";
import type { DistributionAnswer } from "~/server/results/distributions";
import { axes, CurveLegend, DistributionChart } from "../distribution-chart";
import { Figure } from "../figure/figure";
import type { ResultView } from "../result-views";

const captions: Record<Shape, string> = {
  quantiles: "Quantiles of reaction times, averaged over sessions",
  density: "Density of reaction times",
  histogram: "Reaction times",
  cumulative: "Cumulative shares of reaction times, averaged over sessions",
  delta: "Differences of reaction times by quantile",
  accuracy: "Accuracy by speed",
};
const nothing = "all trials together";
/** With a capital first. */
const startCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** How the curves were made. */
function howMade(shape: Shape, { width, rightOnly }: DistributionAnswer): string {
  const right = shape !== "accuracy" && rightOnly ? " Times are of right answers only." : "";
  const few = `Sessions with fewer than ${fewestTimes} times in one of their conditions are not in it.`;
  switch (shape) {
    case "quantiles":
      return `Deciles of each session’s times (type 7), averaged over sessions. Bars: 95 % intervals, within sessions where these have all conditions. ${few}${right}`;
    case "delta":
      return `Each session’s deciles (type 7) in both conditions: their difference over their mean, averaged over sessions. Bars: 95 % intervals of the mean difference. ${few}${right}`;
    case "accuracy":
      return `Each session’s answered trials in ${speedBins} parts of equal size by their times. Bars: 95 % intervals, within sessions where these have all conditions. Sessions with fewer than ${2 * speedBins} answered trials in one of their conditions are not in it.`;
    case "density":
      return `All times of a condition together, smoothed by a normal kernel (Silverman, 1986). The slowest 0.5 % are beyond the axis.${right}`;
    case "histogram":
      return `All times of a condition together, in bins of ${width ?? 0} ms (Freedman & Diaconis, 1981). The slowest 0.5 % are beyond the axis.${right}`;
    case "cumulative":
      return `Shares of each session’s times, averaged over sessions.${right}`;
  }
}

/** The curves as numbers: places down, conditions across where they share their places. */
function tableOf(curves: readonly Curve[], shape: Shape): { header: string[]; rows: (string | number | null)[][] } {
  const [x, y] = axes[shape];
  return {
    header: ["condition", x, y, "half of the 95 % interval", "sessions"],
    rows: curves.flatMap(({ level, points, persons }) =>
      points.map((point) => [level, point.x, point.y, point.half, persons]),
    ),
  };
}
const rounded = (value: number, shape: Shape) =>
  value.toFixed(shape === "density" ? 4 : shape === "quantiles" || shape === "delta" ? 0 : 1);

export const View: ResultView<"distributions"> = ({ question, answer, ask }) => {
  const inBrowser = useInBrowser();
  const { shape, by, columns } = question;
  const { curves, levels, pair, sessions } = answer;
  // Smooth curves have too many points to be read as numbers; they are in the file.
  const isListed = shape === "quantiles" || shape === "delta" || shape === "accuracy";
  const places = curves[0]?.points ?? [];
  const persons = Math.max(0, ...curves.map((curve) => curve.persons));
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
              options={levels.filter((level) => level !== pair[0]).map((level) => [level, level || "(empty)"] as const)}
              onChange={(to) => ask({ from: pair[0], to })}
            />{" "}
            minus{" "}
            <SentenceChoice
              label="Condition to compare with"
              value={pair[0]}
              options={levels.map((level) => [level, level || "(empty)"] as const)}
              onChange={(from) => ask({ from, to: from === pair[1] ? pair[0] : pair[1] })}
            />
          </>
        )}
        .
      </Sentence>
      {sessions === 0 ? (
        <p className="mt-4 rounded-md border border-hairline bg-sheet p-6 text-muted">No times are in yet.</p>
      ) : (
        <div className="mt-2 grid grid-cols-[minmax(0,1.2fr)_minmax(0,0.8fr)] items-start gap-4 small:grid-cols-1">
          <Figure
            name={shape}
            table={tableOf(curves, shape)}
            caption={
              <>
                <b>Figure 3.</b> {captions[shape]}
                {by !== null && (pair ? `: ${pair[1]} minus ${pair[0]} (${by})` : ` by ${by}`)}{" "}
                <em>(n = {persons.toLocaleString("en")})</em>
              </>
            }
          >
            <div className="h-[340px]">{inBrowser && <DistributionChart curves={curves} shape={shape} />}</div>
            <CurveLegend curves={curves} />
          </Figure>
          <section
            aria-label="The figure in numbers"
            tabIndex={0}
            className="overflow-x-auto rounded-md border border-hairline bg-sheet px-4 py-3"
          >
            <h2 className="caption">
              <b>Table 3.</b> {isListed ? startCase(axes[shape][1]) : "What it is made of"}
            </h2>
            <table className="mt-2 w-full text-left text-sm" data-distribution-table>
              <thead>
                <tr className="h-8 border-b border-ink text-xs text-muted">
                  <th scope="col" className="font-semibold">
                    {isListed ? (shape === "accuracy" ? "fifth" : "share") : (by ?? "")}
                  </th>
                  {(isListed ? curves.map(({ level }) => level || "all") : ["sessions", "times"]).map((head) => (
                    <th key={head} scope="col" className="pl-3 text-right">
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {isListed
                  ? places.map((_, at) => (
                      <tr key={at} className="h-[28px] border-b border-hairline last:border-b-0">
                        <td className="font-mono text-xs">
                          {shape === "accuracy" ? at + 1 : ((at + 1) / 10).toFixed(1)}
                        </td>
                        {curves.map(({ level, points }) => (
                          <td key={level} className="pl-3 text-right font-mono text-xs">
                            {points[at] && rounded(points[at].y, shape)}
                            {points[at]?.half != null && (
                              <span className="text-muted"> ± {rounded(points[at].half, shape)}</span>
                            )}
                          </td>
                        ))}
                      </tr>
                    ))
                  : curves.map((curve) => (
                      <tr key={curve.level} className="h-[28px] border-b border-hairline last:border-b-0">
                        <td>{curve.level || "all"}</td>
                        {[curve.persons, curve.trials].map((count, at) => (
                          <td key={at} className="pl-3 text-right font-mono text-xs">
                            {count.toLocaleString("en")}
                          </td>
                        ))}
                      </tr>
                    ))}
              </tbody>
            </table>
            <p className="mt-3 text-sm text-muted">{howMade(shape, answer)}</p>
          </section>
        </div>
      )}
    </>
  );
};
