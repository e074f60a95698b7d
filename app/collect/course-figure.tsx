import type { SessionCourse } from "~/core/describe/session-course";

/** Minutes at which the axis is marked: about eight of them. */
function ticksOf(lengthMs: number): number[] {
  const minutes = lengthMs / 60_000;
  const step = [0.25, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 600].find((each) => minutes / each <= 8) ?? 1440;
  return Array.from({ length: Math.floor(minutes / step) + 1 }, (_, index) => index * step);
}

/** The course of a session in time: parts as bars over an axis of minutes, and under it what happened beside them. */
export function CourseFigure({ course: { lengthMs, spans, marks } }: { course: SessionCourse }) {
  if (spans.length === 0) return null;
  const length = Math.max(1000, lengthMs);
  const at = (ms: number) => `${(100 * Math.max(0, ms)) / length}%`;
  return (
    <figure aria-label="Course in time" className="mt-4">
      <div className="relative h-11">
        {spans.map(({ part, name, from, to, trials }, index) => (
          <div
            key={index}
            title={`${name}${trials > 0 ? `, ${trials} trials` : ""}: minute ${(from / 60_000).toFixed(1)} to ${(to / 60_000).toFixed(1)}`}
            data-span={part}
            className="absolute top-0 overflow-hidden"
            style={{ left: at(from), width: `max(3px, ${(100 * (to - from)) / length}%)` }}
          >
            <span className="block truncate text-xs text-muted">{name}</span>
            <span className="mt-0.5 block h-4 rounded-[2px] border-r border-paper bg-plumage" />
          </div>
        ))}
        {marks.map(({ at: when, says, lasted }, index) => (
          <span
            key={index}
            title={inWords({ at: when, says, lasted })}
            className="absolute top-[18px] h-5 min-w-[2px] bg-chestnut"
            style={{ left: at(when), width: lasted === null ? 2 : `${(100 * lasted) / length}%` }}
          />
        ))}
      </div>
      <div aria-hidden="true" className="relative h-5 border-t border-hairline font-mono text-xs text-muted">
        {ticksOf(length).map((minutes) => (
          <span key={minutes} className="absolute border-l border-hairline pl-1" style={{ left: at(minutes * 60_000) }}>
            {minutes}
          </span>
        ))}
        <span className="absolute right-0 bg-paper pl-1">min</span>
      </div>
      {marks.length > 0 && (
        <figcaption className="mt-1 text-sm text-chestnut">
          {marks.slice(0, 12).map(inWords).join("; ")}
          {marks.length > 12 && `; and ${marks.length - 12} more`}.
        </figcaption>
      )}
    </figure>
  );
}

const inWords = ({ at, says, lasted }: SessionCourse["marks"][number]): string =>
  `${says} at minute ${(at / 60_000).toFixed(1)}${lasted === null ? "" : ` for ${lasted < 60_000 ? `${(lasted / 1000).toFixed(0)} s` : `${(lasted / 60_000).toFixed(1)} min`}`}`;
