import { Link } from "react-router";
import { Pages } from "~/app/components/pages";
import type { ScoreRow } from "~/server/results/scores";
import { NormList } from "../scores/norm-list";
import { ScoreHistogram } from "../scores/score-histogram";
import { ScoreList } from "../scores/score-list";
import { ScoreSentence } from "../scores/score-sentence";
import type { ResultView } from "../result-views";

const rounded = (value: number | null, digits: number) =>
  value === null ? "" : value.toFixed(digits).replace(/^-/, "−");
const raw = (value: number | null) => (value === null ? "" : String(Number(value.toPrecision(5))).replace(/^-/, "−"));

const standings: readonly { says: string; title?: string; of: (row: ScoreRow) => string }[] = [
  { says: "percentile", title: "percentile rank", of: ({ percentile }) => rounded(percentile, 0) },
  { says: "z", of: ({ z }) => rounded(z, 2) },
  { says: "T", title: "50 + 10 z", of: ({ t }) => rounded(t, 0) },
  { says: "stanine", of: ({ stanine }) => rounded(stanine, 0) },
  { says: "95 % interval", of: ({ from, to }) => (from === null || to === null ? "" : `${raw(from)} to ${raw(to)}`) },
];

export const View: ResultView<"scores"> = ({ question, answer, ask }) => {
  const { scores, score, page, order } = question;
  const { norms, rows, pages, levels, numbers } = answer;
  const line = scores.find(({ name }) => name === score);
  const isNormed = norms.some(({ isUsed }) => isUsed);
  const next = order === "score" ? "-score" : order === "-score" ? [] : "score";
  return (
    <div className="grid grid-cols-[220px_minmax(0,1fr)] items-start gap-5 small:grid-cols-1">
      <ScoreList lines={scores} chosen={score} levels={levels} choose={(name) => ask({ score: name, sheet: [] })} />
      {line ? (
        <div className="grid gap-4">
          {line.kept && <ScoreSentence key={line.kept.id} kept={line.kept} levels={levels} numbers={numbers} />}
          <ScoreHistogram score={line.name} answer={answer} />
          <NormList score={line.name} answer={answer} />
          <section aria-label="Sessions" className="rounded-md border border-hairline bg-sheet">
            <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Table of scores">
              <table className="w-full text-left text-sm" data-scores>
                <thead>
                  <tr className="h-9 border-b border-ink text-xs text-muted">
                    <th scope="col" className="px-3 font-semibold">
                      participant
                    </th>
                    <th
                      scope="col"
                      className="px-2 text-right"
                      aria-sort={order === "session" ? "none" : order === "score" ? "ascending" : "descending"}
                    >
                      <button
                        type="button"
                        className="font-semibold hover:text-ink"
                        onClick={() => ask({ order: next, sheet: [] })}
                      >
                        {line.name}
                        {order === "score" ? " ↑" : order === "-score" ? " ↓" : ""}
                      </button>
                    </th>
                    {isNormed &&
                      standings.map(({ says, title }) => (
                        <th key={says} scope="col" title={title} className="px-2 text-right font-semibold">
                          {says}
                        </th>
                      ))}
                    {isNormed && (
                      <th scope="col" className="px-3 font-semibold">
                        read as
                      </th>
                    )}
                  </tr>
                </thead>
                <tbody>
                  {rows.map((row) => (
                    <tr key={row.session} className="h-[30px] border-b border-hairline last:border-b-0">
                      <td className="px-3 font-mono text-xs">
                        <Link to={`?tab=person&session=${row.session}`} className="underline underline-offset-2">
                          {row.participant > 0 ? row.participant : row.session}
                          {row.sitting > 1 && `, sitting ${row.sitting}`}
                        </Link>
                      </td>
                      <td className="px-2 text-right font-mono text-xs">{raw(row.raw)}</td>
                      {isNormed &&
                        standings.map(({ says, of }) => (
                          <td key={says} className="whitespace-nowrap px-2 text-right font-mono text-xs">
                            {of(row)}
                          </td>
                        ))}
                      {isNormed && <td className="px-3 text-muted">{row.band}</td>}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {pages > 1 && (
              <div className="p-2">
                <Pages page={page} pages={pages} onPage={(wanted) => ask({ sheet: String(wanted) })} />
              </div>
            )}
          </section>
        </div>
      ) : (
        <p className="mt-2 text-muted">
          Sessions of this study have no scores yet. “New” makes one of their trials; pages have theirs in Compose.
        </p>
      )}
    </div>
  );
};
