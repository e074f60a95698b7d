import { CartesianGrid, ErrorBar, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { conditionColor } from "~/app/ribbon/palette";
import { centres, type Centre } from "~/core/stats/centre";
import type { ConditionAnswer } from "~/server/results/conditions";
import type { Measure } from "./measures";

type Point = { x: number; y: number; error: number; color: string; label: string };

const shapes = ["circle", "square", "triangle", "diamond"] as const;
/** A fixed spread of the single points beside each mean, the same at every drawing. */
const spread = (index: number) => (((index * 7) % 11) / 10 - 0.5) * 0.13;

/** Means by condition with 95 % intervals, and every person as a faint point. The first column is the axis, the second the shape. */
export function ConditionChart({
  answer,
  measure,
  centre,
}: {
  answer: ConditionAnswer;
  measure: Measure;
  centre: Centre;
}) {
  const { firstLevels, secondLevels, cells } = answer;
  const at = (first: string, second: string) =>
    firstLevels.indexOf(first) +
    1 +
    (secondLevels.length > 1
      ? (secondLevels.indexOf(second) - (secondLevels.length - 1) / 2) * (0.5 / (secondLevels.length - 1))
      : 0);
  const value = (cell: (typeof cells)[number]) =>
    measure === "rt" ? cell.meanRt : cell.accuracy === null ? null : cell.accuracy * 100;
  const error = (cell: (typeof cells)[number]) =>
    measure === "rt" ? (cell.intervalRt ?? 0) : (cell.intervalAccuracy ?? 0) * 100;
  const people = cells.flatMap((cell) =>
    cell.points.flatMap((point, index) => {
      const y = measure === "rt" ? point.rt : point.accuracy === null ? null : point.accuracy * 100;
      return y === null
        ? []
        : [
            {
              x: at(cell.first, cell.second) + 0.11 + spread(index),
              y,
              color: conditionColor(firstLevels.indexOf(cell.first)),
            },
          ];
    }),
  );
  const series = secondLevels.map((second) =>
    cells
      .filter((cell) => cell.second === second)
      .flatMap((cell): Point[] => {
        const y = value(cell);
        return y === null
          ? []
          : [
              {
                x: at(cell.first, second),
                y,
                error: error(cell),
                color: conditionColor(firstLevels.indexOf(cell.first)),
                label: cell.first,
              },
            ];
      }),
  );
  const all = [...people.map(({ y }) => y), ...series.flat().flatMap(({ y, error: half }) => [y - half, y + half])];
  if (all.length === 0) return <p className="p-6 text-muted">There are no answers to compare yet.</p>;
  const unit = measure === "rt" ? 50 : 10;
  const [low, high] = [Math.floor(Math.min(...all) / unit) * unit, Math.ceil(Math.max(...all) / unit) * unit];
  const domain: [number, number] = measure === "accuracy" ? [Math.max(0, low), 100] : [low, high];
  return (
    <ResponsiveContainer width="100%" height={310}>
      <ScatterChart margin={{ top: 12, right: 12, bottom: 4, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid vertical={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[0.5, firstLevels.length + 0.5]}
          ticks={firstLevels.map((_, index) => index + 1)}
          tickFormatter={(tick: number) => firstLevels[tick - 1] || "(empty)"}
          tickLine={false}
          axisLine={{ stroke: "var(--muted)" }}
          tick={{ fill: "var(--ink)", fontSize: 13 }}
        />
        <YAxis
          type="number"
          dataKey="y"
          domain={domain}
          tickCount={Math.min(9, (domain[1] - domain[0]) / unit + 1)}
          tickLine={false}
          axisLine={false}
          width={56}
          tick={{ fill: "var(--muted)", fontSize: 12, fontFamily: "var(--font-mono)" }}
          label={{
            value:
              measure === "rt"
                ? `${centres[centre]} reaction time, ms${answer.rightOnly ? " (right answers)" : ""}`
                : "right answers, %",
            angle: -90,
            position: "insideLeft",
            style: { textAnchor: "middle", fill: "var(--muted)", fontSize: 12 },
          }}
        />
        <Scatter
          data={people}
          isAnimationActive={false}
          shape={(props: {
            cx?: number | undefined;
            cy?: number | undefined;
            payload?: { color: string } | undefined;
          }) => (
            <circle cx={props.cx ?? 0} cy={props.cy ?? 0} r={2.3} fill={props.payload?.color ?? ""} fillOpacity={0.3} />
          )}
        />
        {series.map((points, index) => (
          <Scatter
            key={secondLevels[index] ?? ""}
            data={points}
            isAnimationActive={false}
            shape={(props: { cx?: number | undefined; cy?: number | undefined; payload?: Point | undefined }) => (
              <Sign
                kind={shapes[index % shapes.length] ?? "circle"}
                x={props.cx ?? 0}
                y={props.cy ?? 0}
                fill={props.payload?.color ?? ""}
              />
            )}
          >
            <ErrorBar
              isAnimationActive={false}
              dataKey="error"
              direction="y"
              width={0}
              strokeWidth={2}
              stroke="var(--ink)"
            />
          </Scatter>
        ))}
      </ScatterChart>
    </ResponsiveContainer>
  );
}

export function Sign({ kind, x, y, fill }: { kind: (typeof shapes)[number]; x: number; y: number; fill: string }) {
  const rest = { fill, stroke: "var(--ink)", strokeWidth: 1.2 };
  switch (kind) {
    case "circle":
      return <circle cx={x} cy={y} r={5.5} {...rest} />;
    case "square":
      return <rect x={x - 5} y={y - 5} width={10} height={10} {...rest} />;
    case "triangle":
      return <path d={`M${x} ${y - 6}l6 11h-12z`} {...rest} />;
    case "diamond":
      return <path d={`M${x} ${y - 7}l6 7l-6 7l-6 -7z`} {...rest} />;
  }
}

/** Which sign stands for which level of the second column. */
export const Legend = ({ levels }: { levels: string[] }) =>
  levels.length < 2 ? null : (
    <span data-legend className="flex justify-center gap-5 text-xs text-muted">
      {levels.map((level, index) => (
        <span key={level} className="flex items-center gap-1.5">
          <svg width={16} height={16} aria-hidden="true">
            <Sign kind={shapes[index % shapes.length] ?? "circle"} x={8} y={8} fill="transparent" />
          </svg>
          {level}
        </span>
      ))}
    </span>
  );
