import { CartesianGrid, ErrorBar, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { conditionColor } from "~/app/ribbon/palette";
import type { ConditionAnswer } from "~/server/results/conditions";
import type { ShownMeasure } from "../measures";
import { axisLine, labelBeside, nameTick, tick } from "../axis";
import { ticksAround } from "../ticks";

type Point = { x: number; y: number; error: number; color: string; label: string };

const shapes = ["circle", "square", "triangle", "diamond"] as const;
/** A fixed spread of the single points beside each mean, the same at every drawing. */
const spread = (index: number) => (((index * 7) % 11) / 10 - 0.5) * 0.13;

type Cells = ConditionAnswer["cells"];

/**
 * What conditions have, with 95 % intervals, and every person as a faint point. The first column is the axis, the second the
 * shape; the third has a chart for each of its levels, all on the same scale.
 */
export function ConditionCharts({
  answer,
  measure,
  lines,
}: {
  answer: ConditionAnswer;
  measure: ShownMeasure;
  lines: boolean;
}) {
  const { levels, cells } = answer;
  const ends = cells.flatMap(({ mean, interval, points }) => [
    ...points.map(({ value }) => value),
    ...(mean === null ? [] : [mean - (interval ?? 0), mean + (interval ?? 0)]),
  ]);
  if (ends.length === 0) return <p className="p-6 text-muted">There are no answers to compare yet.</p>;
  const drawn = ends.map(measure.drawn);
  const around = ticksAround(Math.min(...drawn), Math.max(...drawn));
  const ticks = measure.isShare ? around.filter((tick) => tick >= 0 && tick <= 100) : around;
  const panels = levels[2] ?? [];
  if (panels.length < 2)
    return <ConditionChart levels={levels} cells={cells} measure={measure} ticks={ticks} height={310} lines={lines} />;
  return (
    <div className={`grid gap-x-2 ${panels.length > 1 ? "grid-cols-2" : ""}`}>
      {panels.map((panel) => (
        <div key={panel} data-panel={panel}>
          <p className="text-center text-sm">{panel || "(empty)"}</p>
          <ConditionChart
            levels={levels}
            cells={cells.filter((cell) => cell.levels[2] === panel)}
            measure={measure}
            ticks={ticks}
            height={270}
            lines={lines}
          />
        </div>
      ))}
    </div>
  );
}

function ConditionChart({
  levels: [firstLevels = [], secondLevels = [""]],
  cells,
  measure,
  ticks,
  height,
  lines,
}: {
  levels: string[][];
  cells: Cells;
  measure: ShownMeasure;
  ticks: number[];
  height: number;
  lines: boolean;
}) {
  const at = (first: string, second: string) =>
    firstLevels.indexOf(first) +
    1 +
    (secondLevels.length > 1
      ? (secondLevels.indexOf(second) - (secondLevels.length - 1) / 2) * (0.5 / (secondLevels.length - 1))
      : 0);
  const placeOf = ({ levels: [first = "", second = ""] }: Cells[number]) => ({
    x: at(first, second),
    color: conditionColor(firstLevels.indexOf(first)),
    label: first,
  });
  const people = cells.flatMap((cell) => {
    const { x, color } = placeOf(cell);
    // Lines end at their points.
    const beside = (index: number) => (lines ? 0.11 : 0.11 + spread(index));
    return cell.points.map(({ value }, index) => ({ x: x + beside(index), y: measure.drawn(value), color }));
  });
  const joined = lines ? linesOf(cells, (cell, value) => ({ x: placeOf(cell).x + 0.11, y: measure.drawn(value) })) : [];
  const series = secondLevels.map((second) =>
    cells.flatMap((cell): Point[] =>
      (cell.levels[1] ?? "") !== second || cell.mean === null
        ? []
        : [{ ...placeOf(cell), y: measure.drawn(cell.mean), error: measure.drawn(cell.interval ?? 0) }],
    ),
  );
  return (
    <ResponsiveContainer width="100%" height={height}>
      <ScatterChart margin={{ top: 12, right: 12, bottom: 4, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid vertical={false} stroke="var(--hairline)" />
        <XAxis
          type="number"
          dataKey="x"
          domain={[0.5, firstLevels.length + 0.5]}
          ticks={firstLevels.map((_, index) => index + 1)}
          tickFormatter={(tick: number) => firstLevels[tick - 1] || "(empty)"}
          tickLine={false}
          axisLine={axisLine}
          tick={nameTick}
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
          label={labelBeside(measure.axis)}
        />
        {joined.map((points, index) => (
          <Scatter
            key={index}
            data={points}
            isAnimationActive={false}
            line={{ stroke: "var(--muted)", strokeOpacity: 0.35, strokeWidth: 1 }}
            lineType="joint"
            shape={() => <g />}
          />
        ))}
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

/** So many persons’ lines can be told apart. */
const mostLines = 120;

/** The points of each person, along the first column at one level of the second. */
function linesOf<Place>(cells: Cells, place: (cell: Cells[number], value: number) => Place): Place[][] {
  const lines = new Map<string, Place[]>();
  for (const cell of cells)
    for (const { person, value } of cell.points) {
      const key = `${person} ${cell.levels[1] ?? ""}`;
      lines.set(key, [...(lines.get(key) ?? []), place(cell, value)]);
    }
  return [...lines.values()].filter((points) => points.length > 1).slice(0, mostLines);
}

function Sign({ kind, x, y, fill }: { kind: (typeof shapes)[number]; x: number; y: number; fill: string }) {
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
