import { Fragment } from "react";
import { quantilesInWords, signedMs } from "~/app/results/timing-words";
import type { ToldTiming } from "~/server/results/timing";
import type { Display } from "~/core/records/log";
import type { SessionTiming } from "~/core/timing/report";
import { clockStepMs, shareInWords } from "~/core/timing/verdict";

const head = "border-b border-ink text-left text-xs text-muted";
const number = "whitespace-nowrap pl-3 text-right font-mono text-xs";

/** Planned against measured, with a plain verdict before the tables. */
export function TimingReport({ timing, isOne = false }: { timing: ToldTiming; isOne?: boolean }) {
  const { scenes, media, markers, sessions } = timing;
  const tables = [scenes.length > 0, media.length > 0, markers.length > 0, sessions.length > 0];
  /** Tables are numbered as they stand there. */
  const numberOf = (position: number) => tables.slice(0, position + 1).filter(Boolean).length;
  return (
    <div className="grid gap-4" data-timing>
      <p className="max-w-[75ch] font-serif text-[19px] leading-7" data-verdict>
        {timing.verdict.join(" ")}
      </p>
      {scenes.length > 0 && (
        <section className="overflow-auto rounded-md border border-hairline bg-sheet px-4 py-3">
          <h2 className="caption">
            <b>Table {numberOf(0)}.</b> Scenes with a time of their own{" "}
            <em>(deviation: measured minus planned in ms, without its sign, rounding to frames included)</em>
          </h2>
          <table className="mt-2 w-full text-sm">
            <thead>
              <tr className={`h-8 [&>th]:pb-1 [&>th]:align-bottom ${head}`}>
                <th scope="col" className="pr-3">
                  Part
                </th>
                <th scope="col">Scene</th>
                {["planned ms", "shown", "median ms", "deviation 50 · 95 · 99 % · most", "exact", "late", "early"].map(
                  (each) => (
                    <th key={each} scope="col" className="pl-3 text-right">
                      {each}
                    </th>
                  ),
                )}
              </tr>
            </thead>
            <tbody>
              {scenes.map((scene, index) => {
                const late = scene.lateByOne + scene.lateByMore;
                const { from, to } = scene.planned;
                return (
                  <tr
                    key={`${scene.part} ${scene.scene}`}
                    className="h-[32px] border-b border-hairline last:border-b-0"
                  >
                    <td className="pr-3">{scenes[index - 1]?.part === scene.part ? "" : scene.part}</td>
                    <td>{scene.scene}</td>
                    <td className={number}>
                      {Math.round(from) === Math.round(to) ? Math.round(from) : `${Math.round(from)}–${Math.round(to)}`}
                    </td>
                    <td className={number}>{(scene.count + scene.unframed).toLocaleString("en")}</td>
                    <td className={number}>{scene.measured.median.toFixed(1)}</td>
                    <td className={number}>{quantilesInWords(scene.deviation)}</td>
                    <td className={`${number} ${late + scene.early > 0 ? "text-chestnut" : "text-plumage"}`}>
                      {scene.count === 0 ? "no fixed refresh" : shareInWords(scene.exact, scene.count)}
                    </td>
                    <td className={number}>
                      {late === 0
                        ? ""
                        : `${late}${scene.lateByMore > 0 ? ` (${scene.lateByMore} by more than 1)` : ""}`}
                    </td>
                    <td className={number}>{scene.early || ""}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
      )}
      {media.length > 0 && (
        <section className="overflow-auto rounded-md border border-hairline bg-sheet px-4 py-3">
          <h2 className="caption">
            <b>Table {numberOf(1)}.</b> Sounds, videos and moving items{" "}
            <em>(offset: later than the frame they belong to, in ms, as far as the browser can tell)</em>
          </h2>
          <table className="mt-2 w-full text-sm">
            <thead>
              <tr className={`h-8 [&>th]:pb-1 [&>th]:align-bottom ${head}`}>
                <th scope="col">Part</th>
                <th scope="col">Item</th>
                {["played", "offset 50 · 95 · 99 % · most", "late frames"].map((each) => (
                  <th key={each} scope="col" className="text-right">
                    {each}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {media.map((each) => (
                <tr key={`${each.part} ${each.item}`} className="h-[32px] border-b border-hairline last:border-b-0">
                  <td>{each.part}</td>
                  <td>
                    {each.item} <span className="text-muted">({each.kind})</span>
                  </td>
                  <td className={number}>{each.count}</td>
                  <td className={number}>{each.offset ? quantilesInWords(each.offset, signedMs) : ""}</td>
                  <td className={number}>{each.lateFrames || ""}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {markers.length > 0 && (
        <section className="overflow-auto rounded-md border border-hairline bg-sheet px-4 py-3" data-markers>
          <h2 className="caption">
            <b>Table {numberOf(2)}.</b> Markers{" "}
            <em>
              (later than the frame or the answer they mark, in ms, by the browser’s clock; the frame is not yet the
              light)
            </em>
          </h2>
          <table className="mt-2 w-full text-sm">
            <thead>
              <tr className={`h-8 [&>th]:pb-1 [&>th]:align-bottom ${head}`}>
                <th scope="col">Device</th>
                {[
                  ...["markers", "not sent", "sent 50 · 95 · 99 % · most", "confirmed"],
                  ...["confirmed 50 · 95 · 99 % · most", "clocks off by"],
                ].map((each) => (
                  <th key={each} scope="col" className="pl-3 text-right">
                    {each}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {markers.map((each) => (
                <tr key={each.device} className="h-[32px] border-b border-hairline last:border-b-0">
                  <td>{each.device}</td>
                  <td className={number}>{each.count.toLocaleString("en")}</td>
                  <td className={`${number} ${each.lost > 0 ? "text-alarm" : ""}`}>{each.lost || ""}</td>
                  <td className={number}>{each.sentAfter ? quantilesInWords(each.sentAfter, signedMs) : ""}</td>
                  <td className={number}>{each.confirmed || ""}</td>
                  <td className={number}>
                    {each.confirmedAfter ? quantilesInWords(each.confirmedAfter, signedMs) : ""}
                  </td>
                  <td className={number}>{each.clockError === null ? "" : `≤ ${each.clockError.toFixed(2)} ms`}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {isOne && sessions[0] && <ThisDisplay session={sessions[0]} />}
      {!isOne && sessions.length > 0 && (
        <section className="overflow-auto rounded-md border border-hairline bg-sheet px-4 py-3">
          <h2 className="caption">
            <b>Table {numberOf(3)}.</b> Sessions, displays and browsers
          </h2>
          <table className="mt-2 w-full text-sm">
            <thead>
              <tr className={`h-8 [&>th]:pb-1 [&>th]:align-bottom ${head}`}>
                <th scope="col">Participant</th>
                {["scenes", "exact", "late", "refresh", "window", "clock step", "sound latency"].map((each) => (
                  <th key={each} scope="col" className="pl-3 text-right">
                    {each}
                  </th>
                ))}
                <th scope="col" className="pl-4">
                  Browser
                </th>
              </tr>
            </thead>
            <tbody>
              {sessions.map(({ session, participant, browser, display, count, exact, late }) => (
                <tr key={session} className="h-[32px] border-b border-hairline last:border-b-0">
                  <td className="font-mono text-xs">{participant}</td>
                  <td className={number}>{count}</td>
                  <td className={number}>{count === 0 && display?.variable ? "" : shareInWords(exact, count)}</td>
                  <td className={number}>{late || ""}</td>
                  <td className={number}>{display && refreshInWords(display)}</td>
                  <td className={number}>
                    {display &&
                      `${display.width} × ${display.height}${display.pixelRatio === 1 ? "" : ` @${display.pixelRatio}`}`}
                  </td>
                  <td className={number}>{display && `${clockStepMs(display)} ms`}</td>
                  <td className={number}>
                    {display?.soundLatencyMs == null ? "" : `${display.soundLatencyMs.toFixed(0)} ms`}
                  </td>
                  <td className="max-w-[260px] truncate pl-4 text-xs text-muted" title={browser}>
                    {browser}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      <p className="max-w-[90ch] text-sm text-muted">
        Counted in the browser, frame by frame. What the panel adds before light leaves it, and the keyboard before a
        press reaches the browser, cannot be known from inside a browser: it is the same for all conditions on one
        computer, and differs between computers. The self-test with a light sensor measures it.
      </p>
    </div>
  );
}

const refreshInWords = ({ refreshMs, variable }: Display) =>
  variable ? "variable" : `${(1000 / refreshMs).toFixed(2)} Hz`;

/** On what one session was played, in words. */
function ThisDisplay({ session: { display, browser } }: { session: SessionTiming }) {
  const lines: [string, string][] = display
    ? [
        [
          "Refresh",
          display.variable
            ? `follows the drawing, with no fixed length of a frame; ${display.refreshMs} ms in the median`
            : `${refreshInWords(display)}, frames of ${display.refreshMs} ± ${display.refreshSd} ms`,
        ],
        [
          "Window",
          `${display.width} × ${display.height}${display.pixelRatio === 1 ? "" : `, ${display.pixelRatio} device pixels to each`}`,
        ],
        ["Clock", `stamps events and frames to ${clockStepMs(display)} ms`],
        ...(display.soundLatencyMs === null
          ? []
          : ([["Sound", `${display.soundLatencyMs.toFixed(0)} ms later than it is given, as the browser says`]] as [
              string,
              string,
            ][])),
      ]
    : [];
  return (
    <dl className="grid grid-cols-[80px_minmax(0,1fr)] gap-x-3 gap-y-1 text-sm">
      {[...lines, ["Browser", browser] as const].map(([name, says]) => (
        <Fragment key={name}>
          <dt className="text-muted">{name}</dt>
          <dd>{says}</dd>
        </Fragment>
      ))}
    </dl>
  );
}
