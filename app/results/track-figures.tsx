import type { FoundThreshold } from "~/server/results/thresholds";
import { TraceChart, TraceLegend } from "./trace-chart";

/** Three significant digits tell a threshold well enough. */
export const shortNumber = (value: number): string => String(Number(value.toPrecision(3)));

/** What a value that follows the answers is called: its column, the level, and the attempt where there were more. */
export const nameOf = ({ column, level, attempt, block }: Omit<FoundThreshold, "trials">, isAlone: boolean): string =>
  [
    level ? `${column}, ${level}` : column,
    ...(isAlone ? [] : [block]),
    ...(attempt > 1 ? [`attempt ${attempt}`] : []),
  ].join(" · ");

/** How the values of one session followed its answers, one small figure each. */
export function TrackFigures({ tracks }: { tracks: readonly FoundThreshold[] }) {
  const isAlone = new Set(tracks.map(({ block }) => block)).size < 2;
  return (
    <div className="grid gap-4">
      {tracks.map((track) => (
        <figure key={`${nameOf(track, false)} ${track.attempt}`}>
          <figcaption className="mb-1 text-sm">
            <b className="font-mono text-xs">{nameOf(track, isAlone)}</b>{" "}
            <span className="text-muted">{foundInWords(track)}</span>
          </figcaption>
          <TraceChart trials={track.trials} threshold={track.threshold} scale={track.scale} />
        </figure>
      ))}
      <TraceLegend />
    </div>
  );
}

function foundInWords({ method, threshold, reversals, reversalMean, isDone, trials }: FoundThreshold): string {
  const counted = trials.filter(({ counts, right }) => counts && right !== null).length;
  const at = threshold
    ? `threshold ${shortNumber(threshold.value)} for ${Math.round(threshold.at * 1000) / 10} % right (95 %: ${shortNumber(threshold.from)} to ${shortNumber(threshold.to)})`
    : "no threshold yet";
  const turned =
    method === "staircase"
      ? `, ${reversals} reversals${reversalMean === null ? "" : `, their mean ${shortNumber(reversalMean)}`}`
      : "";
  return `${method}, ${counted} trials counted${turned}; ${at}${isDone ? "" : "; not done yet"}`;
}
