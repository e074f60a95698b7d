import { TriangleAlert } from "lucide-react";
import { Popover } from "radix-ui";
import { useMinutes } from "~/app/editing/use-study";
import type { Ribbon } from "~/core/compile/ribbon";

/** What the ribbon counts, in a line; on request the transitions, the runs and the use of rows. */
export function RibbonCounts({ ribbon, color }: { ribbon: Ribbon; color: string | null }) {
  const { counts, colorLevels, broken } = ribbon;
  const { minutes } = useMinutes();
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          title="Shows transitions, runs and how often each row is used"
          className="min-w-0 overflow-hidden text-ellipsis rounded-[4px] small:whitespace-normal small:text-left px-1.5 text-xs text-muted hover:bg-plumage-tint"
        >
          {broken.length > 0 && (
            <span className="mr-2 font-semibold text-alarm">
              <TriangleAlert size={13} aria-hidden="true" className="mr-1 inline" />
              breaks {broken.length === 1 ? "a limit" : `${broken.length} limits`}
            </span>
          )}
          {ribbon.trials === 0 ? (
            `no trials · about ${minutes} min`
          ) : (
            <>
              <b className="font-mono font-normal text-ink">{ribbon.trials}</b> trials · about {minutes} min · longest
              run {ribbon.longestRun} · each row{" "}
              {ribbon.leastUse === ribbon.mostUse ? ribbon.mostUse : `${ribbon.leastUse}–${ribbon.mostUse}`}×
            </>
          )}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={6}
          collisionPadding={12}
          className="z-50 grid max-h-[60vh] max-w-[560px] gap-4 overflow-auto rounded-md border border-hairline bg-sheet p-4 text-sm text-ink"
        >
          {broken.map(({ part, limit, trials }) => (
            <p key={part + limit} className="text-alarm">
              {part} breaks “{limit}” at {trials} {trials === 1 ? "trial" : "trials"}.
            </p>
          ))}
          {color !== null && counts.after && (
            <table>
              <caption className="pb-1 text-left text-xs text-muted">
                {color}: how often each value is followed by each
              </caption>
              <thead>
                <tr className="text-xs text-muted">
                  <td />
                  {colorLevels.map((level) => (
                    <th key={level} scope="col" className="max-w-20 truncate px-2 text-right font-normal">
                      {level}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {colorLevels.map((level, first) => (
                  <tr key={level} className="border-t border-hairline">
                    <th scope="row" className="max-w-28 truncate pr-2 text-left font-normal">
                      {level}
                    </th>
                    {colorLevels.map((_, second) => (
                      <td key={second} className="px-2 text-right font-mono text-xs leading-6">
                        {counts.after?.[first]?.[second] ?? 0}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {color !== null && counts.runs.length > 0 && (
            <p>
              <span className="text-xs text-muted">runs of {color}</span>{" "}
              {counts.runs.slice(0, 12).map((count, length) => (
                <span key={length} className="mr-3 whitespace-nowrap">
                  {length + 1} long <b className="font-mono font-normal">{count}×</b>
                </span>
              ))}
            </p>
          )}
          <div>
            <p className="text-xs text-muted">use of rows for this participant</p>
            {counts.uses.map(({ part, times: all }) => {
              const own = [...all].flatMap((times, index) => (times > 0 ? [{ row: index + 1, times }] : []));
              const times = new Set(own.map((each) => each.times));
              if (own.length === 0) return null;
              return (
                <p key={part} className="leading-6">
                  {part}:{" "}
                  {times.size === 1 ? (
                    <>
                      all {own.length} rows <b className="font-mono font-normal">{own[0]?.times}×</b>
                    </>
                  ) : (
                    own.slice(0, 40).map(({ row, times: often }) => (
                      <span key={row} className="mr-2.5 inline-block whitespace-nowrap">
                        <span className="text-muted">row {row}</span> <b className="font-mono font-normal">{often}×</b>
                      </span>
                    ))
                  )}
                  {times.size > 1 && own.length > 40 && `and ${own.length - 40} more rows`}
                </p>
              );
            })}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
