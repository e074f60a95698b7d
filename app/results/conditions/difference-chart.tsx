import {
  CartesianGrid,
  ErrorBar,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  XAxis,
  YAxis,
} from "recharts";
import { axisLine, labelBelow, nameTick, tick } from "../axis";
import { ticksAround } from "../ticks";

export type DrawnDifference = { place: string; x: number; half: number };

const rowHeight = 34;

/** Differences with their intervals, one below the other, on either side of nought. */
export function DifferenceChart({ drawn, says }: { drawn: readonly DrawnDifference[]; says: string }) {
  const ticks = ticksAround(
    Math.min(0, ...drawn.map(({ x, half }) => x - half)),
    Math.max(0, ...drawn.map(({ x, half }) => x + half)),
  );
  // Places stand from above to below.
  const points = drawn.map((each, at) => ({ ...each, y: drawn.length - at }));
  const widest = Math.max(...drawn.map(({ place }) => place.length));
  return (
    <ResponsiveContainer width="100%" height={70 + rowHeight * drawn.length}>
      <ScatterChart margin={{ top: 8, right: 28, bottom: 18, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid horizontal={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[ticks[0] ?? 0, ticks.at(-1) ?? 1]}
          ticks={ticks}
          tickLine={false}
          axisLine={axisLine}
          tick={tick}
          label={labelBelow(says)}
        />
        <YAxis
          type="number"
          dataKey="y"
          domain={[0.4, drawn.length + 0.6]}
          ticks={points.map(({ y }) => y)}
          tickFormatter={(y: number) => points.find((point) => point.y === y)?.place ?? ""}
          interval={0}
          width={Math.min(190, 16 + widest * 7)}
          tickLine={false}
          axisLine={false}
          tick={nameTick}
        />
        <ReferenceLine x={0} stroke="var(--muted)" strokeDasharray="4 3" />
        <Scatter data={points} isAnimationActive={false} fill="var(--ink)">
          <ErrorBar
            dataKey="half"
            direction="x"
            width={0}
            strokeWidth={2}
            stroke="var(--ink)"
            isAnimationActive={false}
          />
        </Scatter>
      </ScatterChart>
    </ResponsiveContainer>
  );
}
