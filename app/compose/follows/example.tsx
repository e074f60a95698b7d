import { useMemo } from "react";
import { TraceChart, TraceLegend } from "~/app/results/trace-chart";
import { shortNumber } from "~/app/results/track-figures";
import { adaptiveKind } from "~/core/adaptive/registry";
import type { Adaptive } from "~/core/adaptive/specs";
import { observedBy } from "~/core/simulate/observer";

const mostInExample = 80;

/** What one simulated observer would be shown, whose threshold lies in the middle. */
export function Example({ by }: { by: Adaptive }) {
  const shown = useMemo(() => {
    const kind = adaptiveKind(by);
    const answered = observedBy(by, 0.4, "example", mostInExample);
    return { answered, threshold: kind.threshold(by, answered), isDone: kind.isDone(by, answered) };
  }, [by]);
  const { answered, threshold, isDone } = shown;
  return (
    <figure>
      <figcaption className="mb-1 text-xs text-muted">
        As for one simulated observer:{" "}
        {isDone ? `done after ${answered.length} trials` : `the first ${answered.length} trials`}
        {threshold &&
          `, threshold ${shortNumber(threshold.value)} (95 %: ${shortNumber(threshold.from)} to ${shortNumber(threshold.to)})`}
      </figcaption>
      <TraceChart
        trials={answered.map((each, index) => ({ ...each, trial: index + 1, counts: true }))}
        threshold={threshold}
        scale={by.scale}
        height={120}
      />
      <TraceLegend />
    </figure>
  );
}
