import { CartesianGrid, ErrorBar, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { conditionColor } from "~/app/ribbon/palette";
import type { Curve } from "~/core/stats/distributions";
import { axisLine, labelBelow, labelBeside, tick } from "./axis";
import { ticksAround, ticksWithin } from "./ticks";

/** What stands along the axis below: round numbers, or steps with names of their own. */
export type Along = { label: string } & ({ domain: "data" | readonly [number, number] } | { steps: readonly string[] });

const dashes = ["", "6 3", "2 3", "8 3 2 3"];
/** More names than these would stand in each other's way. */
const mostNames = 6;

/** Curves over one axis, one a condition, told apart by colour and by how the line is broken; points with their intervals, or lines alone. */
export function CurveChart({
  curves,
  along,
  yLabel,
  shape = "points",
  zero = false,
}: {
  curves: readonly Curve[];
  along: Along;
  yLabel: string;
  /** Dots are points without a line from one to the next. */
  shape?: "points" | "dots" | "line" | "steps";
  /** Whether nought is marked. */
  zero?: boolean;
}) {
  const points = curves.flatMap((curve) => curve.points);
  if (points.length === 0) return <p className="p-6 text-muted">There is not enough to draw this yet.</p>;
  const ys = points.flatMap(({ y, half }) => [y - (half ?? 0), y + (half ?? 0)]);
  const hasDots = shape === "points" || shape === "dots";
  const ticks = ticksAround(Math.min(...ys), Math.max(...ys));
  return (
    <ResponsiveContainer width="100%" height={340}>
      <LineChart margin={{ top: 12, right: 24, bottom: 18, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid vertical={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          {...axisOf(
            along,
            points.map(({ x }) => x),
          )}
          interval={0}
          allowDuplicatedCategory={false}
          tickLine={false}
          axisLine={axisLine}
          tick={tick}
          label={labelBelow(along.label)}
        />
        <YAxis
          type="number"
          dataKey="y"
          domain={[ticks[0] ?? 0, ticks.at(-1) ?? 1]}
          ticks={ticks}
          tickLine={false}
          axisLine={false}
          width={56}
          tick={tick}
          label={labelBeside(yLabel)}
        />
        {zero && <ReferenceLine y={0} stroke="var(--muted)" />}
        {curves.map((curve, at) => (
          <Line
            key={curve.level}
            data={curve.points}
            dataKey="y"
            type={shape === "steps" ? "stepAfter" : "linear"}
            stroke={conditionColor(at)}
            strokeWidth={shape === "dots" ? 0 : 2}
            strokeDasharray={dashes[at % dashes.length] ?? ""}
            dot={
              hasDots && {
                r: 3.5,
                fill: conditionColor(at),
                stroke: "var(--ink)",
                strokeWidth: 2,
                strokeDasharray: "0",
              }
            }
            activeDot={false}
            isAnimationActive={false}
          >
            {hasDots && (
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

/** Where an axis begins and ends, what is written along it, and how. */
function axisOf(along: Along, xs: readonly number[]) {
  if ("steps" in along) {
    const { steps } = along;
    const every = Math.ceil(steps.length / mostNames);
    return {
      domain: [-0.4, steps.length - 0.6],
      ticks: steps.flatMap((_, at) => (at % every === 0 ? [at] : [])),
      tickFormatter: (at: number) => steps[at] ?? "",
    };
  }
  const [low, high] = along.domain === "data" ? [Math.min(...xs), Math.max(...xs)] : along.domain;
  return { domain: [low, high], ticks: ticksWithin(low, high) };
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
