import { CartesianGrid, ErrorBar, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { conditionColor } from "~/app/ribbon/palette";
import type { Curve, Shape } from "~/core/stats/distributions";

/** What is on the axes of each shape: x, y. */
export const axes: Record<Shape, readonly [string, string]> = {
  quantiles: ["share of each session’s times", "reaction time, ms"],
  density: ["reaction time, ms", "density, % a millisecond"],
  histogram: ["reaction time, ms", "share of times, %"],
  cumulative: ["reaction time, ms", "share of times up to then, %"],
  delta: ["mean of both, ms", "difference, ms"],
  accuracy: ["mean reaction time of the fifth, ms", "right answers, %"],
};
/** Curves of single points, each with its interval. */
const dotted: readonly Shape[] = ["quantiles", "delta", "accuracy"];
export const dashes = ["", "6 3", "2 3", "8 3 2 3"];

export const tickFont = { fontSize: 12, fontFamily: "var(--font-mono)" };

/** Curves over one axis, one a condition; told apart by colour and by how the line is broken. */
export function DistributionChart({ curves, shape }: { curves: readonly Curve[]; shape: Shape }) {
  const hasPoints = curves.some(({ points }) => points.length > 0);
  if (!hasPoints) return <p className="p-6 text-muted">There are not enough times to draw this yet.</p>;
  const isDotted = dotted.includes(shape);
  const xs = curves.flatMap(({ points }) => points.map(({ x }) => x));
  const ys = curves.flatMap(({ points }) => points.flatMap(({ y, half }) => [y - (half ?? 0), y + (half ?? 0)]));
  const ticks = ticksAround(Math.min(...ys), Math.max(...ys));
  const [xLabel, yLabel] = axes[shape];
  const label = { fill: "var(--muted)", fontSize: 12 };
  return (
    <ResponsiveContainer width="100%" height={340}>
      <LineChart margin={{ top: 12, right: 24, bottom: 18, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid vertical={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={shape === "quantiles" ? [0, 1] : [Math.min(...xs), Math.max(...xs)]}
          ticks={shape === "quantiles" ? [0, 0.2, 0.4, 0.6, 0.8, 1] : niceTicks(Math.min(...xs), Math.max(...xs))}
          allowDuplicatedCategory={false}
          tickLine={false}
          axisLine={{ stroke: "var(--muted)" }}
          tick={{ fill: "var(--muted)", ...tickFont }}
          label={{ value: xLabel, position: "insideBottom", offset: -12, style: { textAnchor: "middle", ...label } }}
        />
        <YAxis
          type="number"
          dataKey="y"
          domain={[ticks[0] ?? 0, ticks.at(-1) ?? 1]}
          ticks={ticks}
          tickLine={false}
          axisLine={false}
          width={56}
          tick={{ fill: "var(--muted)", ...tickFont }}
          label={{ value: yLabel, angle: -90, position: "insideLeft", style: { textAnchor: "middle", ...label } }}
        />
        {shape === "delta" && <ReferenceLine y={0} stroke="var(--muted)" />}
        {curves.map(({ level, points }, at) => (
          <Line
            key={level}
            data={points}
            dataKey="y"
            type={shape === "histogram" ? "stepAfter" : "linear"}
            stroke={conditionColor(at)}
            strokeWidth={2}
            strokeDasharray={dashes[at % dashes.length] ?? ""}
            dot={isDotted ? { r: 3.5, fill: conditionColor(at), stroke: "var(--ink)", strokeDasharray: "0" } : false}
            activeDot={false}
            isAnimationActive={false}
          >
            {isDotted && (
              <ErrorBar
                isAnimationActive={false}
                dataKey="half"
                direction="y"
                width={0}
                strokeWidth={1.4}
                stroke={conditionColor(at)}
              />
            )}
          </Line>
        ))}
      </LineChart>
    </ResponsiveContainer>
  );
}

/** A round step, of which about six make up a range. */
function stepOf(low: number, high: number): number {
  const wanted = (high - low) / 6 || 1;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return ([1, 2, 5, 10].find((each) => each * power >= wanted) ?? 10) * power;
}
const from = (first: number, last: number, step: number) =>
  // Tenths and the like are no sums of themselves.
  Array.from({ length: last - first + 1 }, (_, at) => Number(((first + at) * step).toPrecision(12)));

/** Round places within a range. */
function niceTicks(low: number, high: number): number[] {
  const step = stepOf(low, high);
  return from(Math.ceil(low / step), Math.floor(high / step), step);
}

/** Round places of which the first and the last enclose a range. */
export function ticksAround(low: number, high: number): number[] {
  const step = stepOf(low, high);
  return from(Math.floor(low / step), Math.ceil(high / step), step);
}

/** Which line stands for which condition. */
export const CurveLegend = ({ curves }: { curves: readonly Curve[] }) =>
  curves.length < 2 ? null : (
    <span data-legend className="flex flex-wrap justify-center gap-x-5 text-xs text-muted">
      {curves.map(({ level }, at) => (
        <span key={level} className="flex items-center gap-1.5">
          <svg width={24} height={8} aria-hidden="true">
            <line
              x1={0}
              x2={24}
              y1={4}
              y2={4}
              stroke={conditionColor(at)}
              strokeWidth={2}
              strokeDasharray={dashes[at % dashes.length]}
            />
          </svg>
          {level || "(empty)"}
        </span>
      ))}
    </span>
  );
