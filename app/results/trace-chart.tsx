import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from "recharts";
import type { Threshold } from "~/core/adaptive/kind";
import type { TrackTrial } from "~/core/export/tables/thresholds";

type Dot = { cx?: number | undefined; cy?: number | undefined; payload?: TrackTrial & { at: number } };

/** How a value followed the answers, trial by trial: full where right, open where wrong, a cross where nothing was moved; the threshold with its interval. */
export function TraceChart({
  trials,
  threshold,
  scale,
  height = 150,
}: {
  trials: readonly TrackTrial[];
  threshold: Pick<Threshold, "value" | "from" | "to"> | null;
  scale: "linear" | "logarithmic";
  height?: number;
}) {
  if (trials.length === 0) return null;
  const data = trials.map((trial, index) => ({ ...trial, at: index + 1 }));
  const values = trials.map(({ value }) => value);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = scale === "linear" ? Math.max((high - low) * 0.08, 1e-6) : 0;
  const domain: [number, number] =
    scale === "linear" ? [rounded(low - room), rounded(high + room)] : [low / 1.15, high * 1.15];
  const within = (value: number) => Math.min(domain[1], Math.max(domain[0], value));
  return (
    <div role="img" aria-label={inWords(trials, threshold)}>
      <ResponsiveContainer width="100%" height={height}>
        <LineChart data={data} margin={{ top: 6, right: 8, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid vertical={false} stroke="var(--hairline)" />
          {threshold && (
            <ReferenceArea
              y1={within(threshold.from)}
              y2={within(threshold.to)}
              fill="var(--plumage)"
              fillOpacity={0.12}
              ifOverflow="hidden"
            />
          )}
          {threshold && <ReferenceLine y={within(threshold.value)} stroke="var(--plumage)" strokeDasharray="5 3" />}
          <XAxis
            dataKey="at"
            type="number"
            domain={[1, Math.max(2, data.length)]}
            padding={{ left: 6, right: 6 }}
            allowDecimals={false}
            tickCount={Math.min(7, data.length)}
            tickLine={false}
            tick={{ fill: "var(--muted)", fontSize: 11, fontFamily: "var(--font-mono)" }}
          />
          <YAxis
            type="number"
            domain={domain}
            scale={scale === "linear" ? "linear" : "log"}
            tickLine={false}
            axisLine={false}
            width={46}
            tickFormatter={(tick: number) => String(Number(tick.toPrecision(3)))}
            tick={{ fill: "var(--muted)", fontSize: 11, fontFamily: "var(--font-mono)" }}
          />
          <Line
            dataKey="value"
            isAnimationActive={false}
            stroke="var(--muted)"
            strokeWidth={1}
            dot={({ cx, cy, payload }: Dot) => (
              <TrialDot key={payload?.at ?? 0} x={cx ?? 0} y={cy ?? 0} trial={payload ?? null} />
            )}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}

const rounded = (value: number) => Number(value.toPrecision(3));

function TrialDot({ x, y, trial }: { x: number; y: number; trial: TrackTrial | null }) {
  if (!trial || !trial.counts || trial.right === null)
    return <path d={`M${x - 3} ${y - 3}l6 6m0 -6l-6 6`} stroke="var(--chestnut)" strokeWidth={1.5} />;
  return (
    <circle
      cx={x}
      cy={y}
      r={3.2}
      fill={trial.right ? "var(--plumage)" : "var(--sheet)"}
      stroke="var(--plumage)"
      strokeWidth={1.4}
    />
  );
}

function inWords(trials: readonly TrackTrial[], threshold: Pick<Threshold, "value" | "from" | "to"> | null): string {
  const right = trials.filter((trial) => trial.right === true).length;
  const last = trials.at(-1)?.value;
  return `${trials.length} trials, ${right} right, the last at ${last}${threshold ? `; threshold ${threshold.value}, 95 % from ${threshold.from} to ${threshold.to}` : ""}`;
}

/** What the signs of the figure mean. */
export const TraceLegend = () => (
  <span className="flex flex-wrap items-center gap-x-4 gap-y-1 text-xs text-muted">
    <Sign trial={{ trial: 0, value: 0, right: true, counts: true }}>right</Sign>
    <Sign trial={{ trial: 0, value: 0, right: false, counts: true }}>wrong</Sign>
    <Sign trial={{ trial: 0, value: 0, right: null, counts: false }}>moved nothing</Sign>
    <span>dashed: threshold, with its 95 % interval</span>
  </span>
);
const Sign = ({ trial, children }: { trial: TrackTrial; children: string }) => (
  <span className="flex items-center gap-1">
    <svg width={12} height={12} aria-hidden="true">
      <TrialDot x={6} y={6} trial={trial} />
    </svg>
    {children}
  </span>
);
