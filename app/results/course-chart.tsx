import { CartesianGrid, ErrorBar, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { conditionColor } from "~/app/ribbon/palette";
import type { Curve } from "~/core/stats/distributions";
import { dashes, tickFont, ticksAround } from "./distribution-chart";

/** Means with their intervals along steps, one line a condition; x is the place of a step. */
export function CourseChart({
  curves,
  steps,
  xLabel,
  yLabel,
}: {
  curves: readonly Curve[];
  steps: readonly string[];
  xLabel: string;
  yLabel: string;
}) {
  const ys = curves.flatMap(({ points }) => points.flatMap(({ y, half }) => [y - (half ?? 0), y + (half ?? 0)]));
  if (ys.length === 0) return <p className="p-6 text-muted">There is nothing to draw of this yet.</p>;
  const ticks = ticksAround(Math.min(...ys), Math.max(...ys));
  // More names would stand in each other's way.
  const every = Math.ceil(steps.length / 6);
  const label = { fill: "var(--muted)", fontSize: 12 };
  return (
    <ResponsiveContainer width="100%" height={340}>
      <LineChart margin={{ top: 12, right: 24, bottom: 18, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid vertical={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[-0.4, steps.length - 0.6]}
          ticks={steps.flatMap((_, at) => (at % every === 0 ? [at] : []))}
          interval={0}
          tickFormatter={(at: number) => steps[at] ?? ""}
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
        {curves.map(({ level, points }, at) => (
          <Line
            key={level}
            data={points}
            dataKey="y"
            type="linear"
            stroke={conditionColor(at)}
            strokeWidth={2}
            strokeDasharray={dashes[at % dashes.length] ?? ""}
            dot={{ r: 3.5, fill: conditionColor(at), stroke: "var(--ink)", strokeDasharray: "0" }}
            activeDot={false}
            isAnimationActive={false}
          >
            <ErrorBar
              isAnimationActive={false}
              dataKey="half"
              direction="y"
              width={0}
              strokeWidth={1.4}
              stroke={conditionColor(at)}
            />
          </Line>
        ))}
      </LineChart>
    </ResponsiveContainer>
  );
}
